package kadrem.core.study;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class WrittenTest {
    @ParameterizedTest
    @CsvSource({"PT0.4S,0 s", "PT12S,12 s", "PT59.6S,1 min 0 s", "PT4M10S,4 min 10 s", "PT3H5M,3 h 5 min", "PT-5S,0 s"})
    void timesAreWrittenForPeople(Duration time, String text) {
        assertThat(Written.time(time)).isEqualTo(text);
    }
}
