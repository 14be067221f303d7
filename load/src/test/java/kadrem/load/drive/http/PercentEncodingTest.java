package kadrem.load.drive.http;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PercentEncodingTest {
    private static String encode(String text) {
        return new String(PercentEncoding.encode(text), StandardCharsets.US_ASCII);
    }

    /** RFC 3986: unreserved characters of section 2.3; section 2.5 has A, À and KATAKANA LETTER A as examples. */
    @ParameterizedTest
    @CsvSource({"A,A", "À,%C3%80", "ア,%E3%82%A2", "-._~,-._~", "' ',%20", "100%,100%25", "a/b,a%2Fb", "a+b,a%2Bb",
            "?#[]@,%3F%23%5B%5D%40"})
    void theExamplesOfTheStandard(String text, String encoded) {
        assertThat(encode(text)).isEqualTo(encoded);
    }

    /** The JDK's decoder is the reference: it gives back every character that was encoded. */
    @Test
    void everyCharacterComesBack() {
        for (int c = 0; c < 0x3000; c++) {
            String text = new String(Character.toChars(c));
            assertThat(URLDecoder.decode(encode(text), StandardCharsets.UTF_8)).isEqualTo(text);
        }
        assertThat(URLDecoder.decode(encode("⚓ harbour 🚢"), StandardCharsets.UTF_8)).isEqualTo("⚓ harbour 🚢");
    }
}
