package kadrem.desk.candidates;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

import kadrem.core.study.WatchSource;
import kadrem.files.study.Edit;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A line of words about what is watched is what the study then says. */
class WatchTextTest {
    @TempDir
    private Path folder;

    private StudyFile study() throws Exception {
        NewStudy.create(folder.resolve("s"), "s");
        return StudyFile.read(folder.resolve("s"));
    }

    private static List<WatchSource> watch(StudyFile file) {
        return file.study().candidates().getFirst().watch();
    }

    private static StudyFile with(StudyFile file, String text, Optional<WatchSource> before) throws StudyException {
        return file
                .with(List.of(new Edit.Insert("candidates[0].watch", 0, WatchText.read(text, before).orElseThrow())));
    }

    @ParameterizedTest
    @ValueSource(strings = {"jvm 127.0.0.1:9010", "process /run/board.pid",
            "cgroup /sys/fs/cgroup/board.slice called slice",
            "ssh watcher@db.example:2222 key ~/.ssh/id password {{env:PASSPHRASE}} called \"db host\"",
            "metrics http://127.0.0.1:9100/metrics a_total b", "sql jdbc:h2:mem:x sa - \"select 1 as one\" one"})
    void everyKindIsReadBackAsItWasWritten(String text) throws Exception {
        StudyFile file = with(study(), text, Optional.empty());
        assertThat(watch(file)).singleElement().satisfies(one -> assertThat(WatchText.write(one)).isEqualTo(text));
    }

    @Test
    void unitsAndRolesStayWithTheirSeries() throws Exception {
        var before = new WatchSource.MetricsEndpoint("metrics", "http://127.0.0.1:1/m",
                List.of(new WatchSource.MetricsEndpoint.Choice("a", "calls", "disk")));
        StudyFile file = with(study(), "metrics http://127.0.0.1:2/m a b", Optional.of(before));
        assertThat(watch(file)).containsExactly(new WatchSource.MetricsEndpoint("metrics", "http://127.0.0.1:2/m",
                List.of(new WatchSource.MetricsEndpoint.Choice("a", "calls", "disk"),
                        new WatchSource.MetricsEndpoint.Choice("b", "", "custom"))));
        assertThat(WatchText.read("  ", Optional.empty())).isEmpty();
    }
}
