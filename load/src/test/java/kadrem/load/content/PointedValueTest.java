package kadrem.load.content;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.Optional;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The document of RFC 9535, section 2.6.1 ("o" with names that need quotes) and that of its figure 1, both shortened. */
class PointedValueTest {
    private static final String STORE = """
            {
              "store" : {
                "book" : [ {
                  "title" : "Sayings of the Century",
                  "price" : 8.95
                }, {
                  "title" : "Moby \\"Dick\\"",
                  "sold" : true,
                  "series" : null
                } ],
                "j j" : { "k.k" : 3, "it's" : [ ] }
              }
            }""";

    private static Optional<PointedValue> at(String words) {
        return PointedValue.at(STORE, STORE.indexOf(words) + words.length() / 2);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            Sayings      | $.store.book[0].title     | Sayings of the Century
            8.95         | $.store.book[0].price     | 8.95
            "price"      | $.store.book[0].price     | 8.95
            Dick         | $.store.book[1].title     | Moby "Dick"
            true         | $.store.book[1].sold      | true
            null         | $.store.book[1].series    | null
            k.k          | $.store['j j']['k.k']     | 3
            """)
    void aValueOrItsNameIsThePlaceOfTheValue(String words, String path, String text) {
        assertThat(at(words)).get().extracting(PointedValue::path, PointedValue::text)
                .containsExactly(path, Optional.of(text));
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            8.95       | $.store.book[*].price
            true       | $.store.book[*].sold
            "k.k"      |
            "book"     |
            """)
    void theSamePlaceOfAllElementsIsAColumn(String words, String column) {
        assertThat(at(words).flatMap(PointedValue::column)).isEqualTo(Optional.ofNullable(column));
    }

    @Test
    void aColumnHasTheValuesOfAllElements() throws Exception {
        String column = at("\"title\"").flatMap(PointedValue::column).orElseThrow();
        assertThat(JsonQuery.of(column).texts(JsonQuery.Document.of(STORE.getBytes(StandardCharsets.UTF_8))))
                .containsExactly("Sayings of the Century", "Moby \"Dick\"");
    }

    @Test
    void ofAnObjectOrAnArrayThereIsThePlaceAlone() {
        assertThat(at("\"book\"")).contains(new PointedValue("$.store.book", Optional.empty(), Optional.empty()));
        assertThat(at("it's"))
                .contains(new PointedValue("$.store['j j']['it\\'s']", Optional.empty(), Optional.empty()));
    }

    @Test
    void whereNothingStandsThereIsNothing() {
        assertThat(PointedValue.at(STORE, 0)).isEmpty();
        assertThat(PointedValue.at(STORE, STORE.length())).isEmpty();
        assertThat(PointedValue.at("not JSON", 3)).isEmpty();
        assertThat(PointedValue.at("", 0)).isEmpty();
        assertThat(PointedValue.at("\"alone\"", 3))
                .contains(new PointedValue("$", Optional.of("alone"), Optional.empty()));
    }
}
