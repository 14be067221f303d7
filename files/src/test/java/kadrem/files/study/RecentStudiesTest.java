package kadrem.files.study;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;

import kadrem.files.study.RecentStudies.Recent;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class RecentStudiesTest {
    @TempDir
    private Path folder;

    private Recent study(String name, String said) throws Exception {
        Path study = folder.resolve(name);
        if (!Files.exists(study)) {
            NewStudy.create(study, name);
        }
        return new Recent(study.toString(), name, said);
    }

    @Test
    void theLastComesFirstAndOnceWithWhatItSaidLast() throws Exception {
        var recent = new RecentStudies(folder.resolve("own/recent.json"));
        assertThat(recent.all()).isEmpty();
        recent.note(study("one", "nothing yet"));
        recent.note(study("two", "nothing yet"));
        recent.note(study("one", "A is faster"));
        assertThat(recent.all()).containsExactly(study("one", "A is faster"), study("two", "nothing yet"));
    }

    @Test
    void whatIsGoneIsLeftOutAndTheListIsShort() throws Exception {
        var recent = new RecentStudies(folder.resolve("recent.json"));
        for (int i = 0; i < 12; i++) {
            recent.note(study("s" + i, ""));
        }
        Files.delete(folder.resolve("s11/study.yaml"));
        assertThat(recent.all()).hasSize(7).extracting(Recent::name).startsWith("s10");
    }

    @Test
    void aBrokenListIsNone() throws Exception {
        Files.writeString(folder.resolve("recent.json"), "[{");
        var recent = new RecentStudies(folder.resolve("recent.json"));
        assertThat(recent.all()).isEmpty();
        recent.note(study("one", ""));
        assertThat(recent.all()).hasSize(1);
    }
}
