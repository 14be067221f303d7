package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TextsTest {
    @ParameterizedTest
    @CsvSource({"PT0.4S,0 s", "PT12S,12 s", "PT59.6S,1 min 0 s", "PT4M10S,4 min 10 s", "PT3H5M,3 h 5 min", "PT-5S,0 s"})
    void timesAreWrittenForPeople(Duration time, String text) {
        assertThat(Texts.time(time)).isEqualTo(text);
    }

    @Test
    void columnsAreAsWideAsTheirWidestCell() {
        assertThat(Texts.table(List.of(List.of("name", "n"), List.of("a", "12,345"), List.of("longer", "7")),
                List.of(false, true))).isEqualTo("""
                        name         n
                        --------------
                        a       12,345
                        longer       7
                        """);
    }
}
