package kadrem.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.Problem;
import kadrem.core.study.Question;
import kadrem.core.study.Studies;
import kadrem.core.study.Study;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;

class StudyCheckTest {
    private static List<String> errors(MeasuredStudy study) {
        return StudyCheck.check(study).stream().filter(problem -> problem.severity() == Problem.Severity.ERROR)
                .map(Problem::path).toList();
    }

    private static MeasuredStudy with(Call call) {
        MeasuredStudy study = Studies.two();
        return new MeasuredStudy(study.name(), study.question(), study.candidates(),
                new Workload(study.workload().values(), List.of(new Visit("v", 1, List.of(call)))), study.load(),
                study.plan());
    }

    @Test
    void aGoodStudyHasNoProblems() {
        assertThat(StudyCheck.check(Studies.two())).isEmpty();
    }

    @Test
    void loopbackIsALiteralOrTheNameLocalhost() {
        assertThat(new Address("localhost", 80, "").isLoopback()).isTrue();
        assertThat(new Address("127.0.0.1.example.org", 80, "").isLoopback()).isFalse();
        assertThat(new Address("::1", 80, "").isLoopback()).isTrue();
        assertThat(new Address("::1", 8080, "").authority()).isEqualTo("[::1]:8080");
    }

    @Test
    void placeholdersNeedAListOfTheirName() {
        assertThat(errors(with(Call.of("c", "GET", "/x/{{nobody}}"))))
                .containsExactly("workload.visits[0].calls[0]");
    }

    private static List<String> warnings(MeasuredStudy study) {
        return StudyCheck.check(study).stream().filter(problem -> problem.severity() == Problem.Severity.WARNING)
                .map(problem -> problem.path() + " " + problem.what()).toList();
    }

    /** A study is passed on with what is written in it, and every user of a machine sees the arguments of its processes. */
    @Test
    void secretsInTheWrongPlaceAreWarnedOf() {
        assertThat(warnings(with(Call.of("c", "GET", "/berths?api_key=ebb-tide"))))
                .anyMatch(warning -> warning.contains("holds what looks like a secret: the value of api_key"));
        assertThat(warnings(with(Call.of("c", "GET", "/berths?api_key={{env:KEY}}"))))
                .noneMatch(warning -> warning.contains("secret"));
        MeasuredStudy two = Studies.two();
        var launch = new Launch(List.of("./serve", "--password", "{{env:WORD}}"), ".", Map.of(), Optional.empty(),
                Duration.ofSeconds(1), Duration.ofSeconds(1));
        var launched = new Candidate("a", "A", new Address("127.0.0.1", 18_000, ""), Optional.of(launch), "/health",
                Optional.empty(), Optional.empty());
        assertThat(warnings(new MeasuredStudy(two.name(), two.question(), List.of(launched, two.candidates().get(1)),
                two.workload(), two.load(), two.plan())))
                .containsExactly("candidates[0].launch.command hands a secret over as an argument");
    }

    @Test
    void loadIsChecked() {
        assertThat(errors(Studies.withLoad(new LoadProfile.Open(100_000, LoadProfile.Spacing.POISSON, 8, Duration.ZERO,
                Duration.ofMinutes(10), Duration.ofSeconds(1))))).containsExactly("load.spacing");
    }

    @Test
    void aPlanThatCannotSettleAnythingIsToldBeforeItRuns() {
        MeasuredStudy six = Studies.of(List.of("a", "b", "c"), Studies.OPEN, new Question.Decider(Metric.P99, 0.1),
                new Question.Decider(Metric.MEAN, 0.1));
        assertThat(StudyCheck.check(six)).singleElement().satisfies(problem -> {
            assertThat(problem.severity()).isEqualTo(Problem.Severity.WARNING);
            assertThat(problem.what()).contains("6 things to be shown").contains("8 rounds");
        });
    }

    @Test
    void theBaselineComesFirstInEveryPairItIsIn() {
        MeasuredStudy study = Studies.of(List.of("a", "b", "c"), Studies.OPEN);
        var question = new Question("?", "b", 0.05, List.of());
        var other = new MeasuredStudy("s", question, study.candidates(), study.workload(), study.load(), study.plan());
        assertThat(other.pairs()).containsExactly(new Study.CandidatePair("b", "a"), new Study.CandidatePair("b", "c"),
                new Study.CandidatePair("a", "c"));
    }
}
