package kadrem.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;

import kadrem.files.run.StudyLock;
import kadrem.files.study.NewStudy;
import kadrem.load.gate.Consent;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

@Timeout(value = 60, unit = TimeUnit.SECONDS)
class MoveStudyTest {
    @TempDir
    private Path home;
    private Path study;

    @BeforeEach
    void make() throws Exception {
        study = home.resolve("127.0.0.1-8081");
        NewStudy.create(study, "");
        Files.createDirectories(study.resolve("runs/001-a-1"));
        Files.writeString(study.resolve("runs/001-a-1/run.json"), "{}");
        Consent.ofUser().own(study);
    }

    @Test
    void itGoesWithItsRunsAndTheUsersWord() throws Exception {
        Path to = home.resolve("next/season");
        assertThat(MoveStudy.to(study, to)).isEqualTo(to.toAbsolutePath());
        assertThat(to.resolve("runs/001-a-1/run.json")).hasContent("{}");
        assertThat(study).doesNotExist();
        assertThat(Consent.ofUser().isOwn(to)).isTrue();
        assertThat(Consent.ofUser().said()).doesNotContainKey(study.toAbsolutePath().toString())
                .containsKey(to.toRealPath().toString());
    }

    @Test
    void itStaysWhereItCannotGo() throws Exception {
        assertThatThrownBy(() -> MoveStudy.to(study, study.resolve("inside"))).hasMessageContaining("within the study");
        Path taken = Files.writeString(Files.createDirectories(home.resolve("taken")).resolve("mine.txt"), "mine");
        assertThatThrownBy(() -> MoveStudy.to(study, taken.getParent())).hasMessageContaining("not empty");
        assertThatThrownBy(() -> MoveStudy.to(study, taken)).hasMessageContaining("not empty");
        assertThat(taken).hasContent("mine");
        try (StudyLock _ = StudyLock.take(study)) {
            assertThatThrownBy(() -> MoveStudy.to(study, home.resolve("later"))).hasMessageContaining("being measured");
        }
        assertThat(study.resolve("study.yaml")).exists();
        assertThat(Consent.ofUser().isOwn(study)).isTrue();
    }
}
