package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;

import org.junit.jupiter.api.Test;

class TextsTest {
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
