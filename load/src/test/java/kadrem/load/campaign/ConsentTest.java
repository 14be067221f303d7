package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Address;
import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ConsentTest {
    @TempDir
    private Path folder;

    private static Candidate candidate(Address address, List<String> command, Map<String, String> environment,
            Optional<Candidate.Reset> reset) {
        return new Candidate("c", "C", address, Optional.of(new Launch(command, ".", environment, Optional.empty(),
                Duration.ofSeconds(1), Duration.ofSeconds(1))), "/", reset, Optional.empty());
    }

    private static Candidate here(String... command) {
        return candidate(new Address("127.0.0.1", 80, ""), List.of(command), Map.of(), Optional.empty());
    }

    private static final Workload NOTHING = new Workload(List.of(), List.of());

    private static Study study(Candidate candidate) {
        return new Study("s", new Question("?", "c", 0.05, List.of()), List.of(candidate),
                new Workload(List.of(), List.of()), new LoadProfile.Closed(1, ThinkTime.NONE, Duration.ZERO,
                        Duration.ofSeconds(1), Duration.ofSeconds(1)),
                new Plan(1, 1, Duration.ZERO));
    }

    @Test
    void loopbackNeedsNoWordAndOtherHostsNeedOne() throws Exception {
        var consent = new Consent(folder.resolve("kadrem"));
        var far = new Address("board.example", 80, "");
        Candidate there = new Candidate("c", "C", far, Optional.empty(), "/", Optional.empty(), Optional.empty());
        assertThat(consent.allows(new Address("127.0.0.1", 80, ""))).isTrue();
        assertThat(consent.allows(far)).isFalse();
        assertThatThrownBy(() -> consent.require(there, NOTHING, folder)).isInstanceOf(CandidateFailure.class)
                .hasMessageContaining("kadrem allow board.example");
        consent.allow("Other.example");
        consent.allow("Board.Example");
        assertThat(consent.allows(far)).isTrue();
        consent.require(there, NOTHING, folder);
        assertThat(new Consent(folder.resolve("kadrem")).allows(far)).as("kept").isTrue();
        assertThat(consent.allows(new Address("example", 80, ""))).isFalse();
    }

    @Test
    void commandsOfAStudyNeedAWordThatHoldsUntilTheyChangeOrTheStudyMoves() throws Exception {
        var consent = new Consent(folder.resolve("kadrem"));
        Candidate foreign = here("./serve.sh", "--port", "{{port}}");
        assertThat(consent.waiting(study(foreign), folder)).containsExactly("c: ./serve.sh --port {{port}}");
        assertThatThrownBy(() -> consent.require(foreign, NOTHING, folder))
                .hasMessageContaining("./serve.sh --port {{port}}")
                .hasMessageContaining("kadrem allow --commands");
        consent.allowCommands(study(foreign), folder);
        consent.require(foreign, NOTHING, folder);
        assertThat(consent.waiting(study(here("./serve.sh", "--evil")), folder)).as("changed").hasSize(1);
        assertThat(consent.waiting(study(foreign), folder.resolve("copy"))).as("from elsewhere").hasSize(1);
    }

    @Test
    void kadremsOwnStandInsNeedNoWordUnlessSomethingIsSlippedIn() {
        var consent = new Consent(folder.resolve("kadrem"));
        assertThat(consent.waiting(study(here("{{kadrem}}", "standin", "pool", "--port", "{{port}}")), folder))
                .isEmpty();
        assertThat(consent.waiting(study(candidate(new Address("127.0.0.1", 80, ""),
                List.of("{{kadrem}}", "standin", "pool"), Map.of("JAVA_TOOL_OPTIONS", "-javaagent:x.jar"),
                Optional.empty())), folder))
                .containsExactly("c: JAVA_TOOL_OPTIONS=-javaagent:x.jar {{kadrem}} standin pool");
        assertThat(consent.waiting(study(candidate(new Address("127.0.0.1", 80, ""),
                List.of("{{kadrem}}", "standin", "pool"), Map.of(),
                Optional.of(new Candidate.ControlCommand(List.of("rm", "-r", "data"))))), folder))
                .contains("c: rm -r data");
    }
}
