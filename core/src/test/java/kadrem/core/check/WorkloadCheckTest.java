package kadrem.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import java.util.Optional;

import kadrem.core.scaling.Prediction;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Body;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Problem;
import kadrem.core.study.SecretReference;
import kadrem.core.study.SignIn;
import kadrem.core.study.Studies;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Tls;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;

/** What the check of a study says of workloads, sign-ins and value lists, and what follows from a workload by arithmetic. */
class WorkloadCheckTest {
    private static final Call CALL = Call.of("c", "GET", "/x");

    private static MeasuredStudy study(Workload workload, LoadProfile load) {
        MeasuredStudy plain = Studies.two();
        return new MeasuredStudy(plain.name(), plain.question(), plain.candidates(), workload, load, plain.plan());
    }

    private static List<String> problems(Workload workload, LoadProfile load, Problem.Severity severity) {
        return StudyCheck.check(study(workload, load)).stream().filter(problem -> problem.severity() == severity)
                .map(problem -> problem.path() + " " + problem.what()).toList();
    }

    private static List<String> errors(Workload workload) {
        return problems(workload, Studies.two().load(), Problem.Severity.ERROR);
    }

    private static Workload of(List<ValueList> lists, List<Call> first, Call... calls) {
        return new Workload(lists, first, List.of(new Visit("v", 1, List.of(calls))), Workload.Choice.BY_SHARE);
    }

    private static Workload of(Call... calls) {
        return of(List.of(), List.of(), calls);
    }

    private static LoadProfile.Closed closed(int users, ThinkTime thinkTime) {
        return new LoadProfile.Closed(users, thinkTime, Duration.ZERO, Duration.ofSeconds(30), Duration.ofSeconds(5));
    }

    private static Capture token() {
        return new Capture("token", new Capture.Source.Json("$.t"));
    }

    @Test
    void aCapturedValueMustBeCapturedBeforeItIsUsed() {
        Call uses = Call.of("uses", "GET", "/{{token}}");
        Call captures = Call.of("captures", "GET", "/in").capturing(token());
        assertThat(errors(of(captures, uses))).isEmpty();
        assertThat(errors(of(List.of(), List.of(captures), uses))).isEmpty();
        assertThat(errors(of(uses, captures))).singleElement().asString().contains("no earlier call captures it");
        var apart = new Workload(List.of(), List.of(new Visit("one", 1, List.of(captures)),
                new Visit("other", 1, List.of(uses))));
        assertThat(errors(apart)).as("another visit's captures are another user's").hasSize(1);
    }

    @Test
    void capturesHaveNamesOfTheirOwn() {
        var list = new ValueList.NumberRange("token", 1, 2);
        assertThat(errors(of(List.of(list), List.of(), CALL.capturing(token())))).singleElement().asString()
                .contains("is the name of a value list");
        assertThat(errors(of(CALL.capturing(new Capture("a b", new Capture.Source.Header("X")))))).singleElement()
                .asString().contains("has the name \"a b\"");
        assertThat(errors(of(CALL.capturing(new Capture("a", new Capture.Source.Pattern("(")))))).singleElement()
                .asString().contains("cannot be read");
    }

    @Test
    void valueListsThatCannotBeDrawnAreErrors() {
        var perCall = new ValueList.Draw(ValueList.Order.SEQUENTIAL, ValueList.Keep.CALL);
        assertThat(errors(of(List.of(new ValueList.NumberRange("n", 5, 1)), List.of(), CALL))).singleElement()
                .asString().contains("has no rows");
        assertThat(errors(of(List.of(new ValueList.Zipf("z", 1, 2_000_000, 1, ValueList.Draw.USUAL)), List.of(), CALL)))
                .singleElement().asString().contains("2000000 numbers");
        assertThat(errors(of(List.of(new ValueList.NumberRange("n", 1, 9, perCall)), List.of(), CALL)))
                .singleElement().asString().contains("rows come in an order");
    }

    @Test
    void shortListsAreWarnedOf() {
        var ordered = new ValueList.NumberRange("n", 1, 10,
                new ValueList.Draw(ValueList.Order.SEQUENTIAL, ValueList.Keep.VISIT));
        Workload workload = of(List.of(ordered), List.of(), Call.of("c", "GET", "/{{n}}"));
        assertThat(problems(workload, Studies.two().load(), Problem.Severity.WARNING))
                .anyMatch(text -> text.contains("has 10 rows for"));
        var random = new ValueList.NumberRange("n", 1, 10);
        assertThat(problems(of(List.of(random), List.of(), Call.of("c", "GET", "/{{n}}")), Studies.two().load(),
                Problem.Severity.WARNING)).isEmpty();
    }

    @Test
    void ownCertificateAndKeyGoTogether() {
        MeasuredStudy plain = Studies.two();
        Candidate first = plain.candidates().getFirst();
        var tls = new Tls(true, Optional.empty(), Optional.of("me.pem"), Optional.empty());
        var spoiled = new Candidate("a", "a", first.address(), first.launch(), first.ready(), first.reset(),
                first.version(), new Access(new SignIn.None(), tls));
        var study = new MeasuredStudy(plain.name(), plain.question(), List.of(spoiled, plain.candidates().get(1)),
                plain.workload(), plain.load(), plain.plan());
        assertThat(StudyCheck.check(study)).anySatisfy(problem -> assertThat(problem.path()).endsWith(".tls"));
        assertThat(tls.words()).isEqualTo("certificate checked, own certificate me.pem");
    }

    @Test
    void otherHostsAreAWarningAndNoError() {
        MeasuredStudy plain = Studies.two();
        var far = new Candidate("a", "a", new Address("board.example", 443, "/api", true), Optional.empty(), "/",
                Optional.empty(), Optional.empty());
        var study = new MeasuredStudy(plain.name(), plain.question(), List.of(far, plain.candidates().get(1)),
                plain.workload(), plain.load(), plain.plan());
        assertThat(StudyCheck.check(study)).singleElement().satisfies(problem -> {
            assertThat(problem.severity()).isEqualTo(Problem.Severity.WARNING);
            assertThat(problem.mend()).contains("kadrem allow board.example");
        });
        assertThat(far.address().toString()).isEqualTo("https://board.example/api");
        assertThat(new Address("h", 80, "", true).toString()).isEqualTo("https://h:80");
    }

    /** Common practice, no source: 200 users with 750 ms think time cannot exceed 267 calls/s; the pauses of calls count too. */
    @Test
    void pausesBoundTheRateOfAClosedLoad() {
        var load = closed(200, new ThinkTime.Fixed(Duration.ofMillis(750)));
        assertThat(Prediction.of(study(of(CALL), load), java.util.Optional.empty()).mostCallsPerSecond().orElseThrow())
                .isBetween(266.0, 267.0);
        Workload two = of(CALL.thinking(ThinkTime.NONE), Call.of("d", "GET", "/d"));
        assertThat(Prediction.of(study(two, load), java.util.Optional.empty()).mostCallsPerSecond().orElseThrow())
                .as("a pause every second call")
                .isBetween(533.0, 534.0);
        assertThat(Prediction.of(study(of(CALL), closed(5, ThinkTime.NONE)), java.util.Optional.empty())
                .mostCallsPerSecond()).isEmpty();
    }

    /** Common practice, no source: 60 arrivals/s for 30 s with 4 calls a visit is 7,200 calls. */
    @Test
    void repeatsMultiplyTheCallsOfAVisit() {
        var visit = new Visit("v", 1, 2, List.of(CALL, Call.of("d", "GET", "/d")));
        var workload = new Workload(List.of(), List.of(visit));
        var load = new LoadProfile.Open(60, LoadProfile.Spacing.CONSTANT, 8, Duration.ZERO, Duration.ofSeconds(30),
                Duration.ofSeconds(5));
        assertThat(Prediction.of(study(workload, load), java.util.Optional.empty()).callsPerRun().orElseThrow())
                .isEqualTo(7200);
        var inTurn = new Workload(List.of(), List.of(), List.of(new Visit("a", 9, List.of(CALL)), visit),
                Workload.Choice.IN_TURN);
        assertThat(inTurn.meanCallsPerVisit()).as("shares do not count in turn").isEqualTo(2.5);
    }

    @Test
    void secretReferencesAreRecognised() {
        assertThat(SecretReference.parse("env: BOARD")).isEqualTo(
                new SecretReference(SecretReference.Kind.ENVIRONMENT, "BOARD"));
        assertThat(SecretReference.parse("file:~/key").toString()).isEqualTo("file:~/key");
        assertThat(SecretReference.isOne("berth")).isFalse();
        org.assertj.core.api.Assertions.assertThatThrownBy(() -> SecretReference.parse("berth"))
                .isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void wordsOfExpectationsAndSources() {
        assertThat(new Expectations.Expectation.Size(2, Long.MAX_VALUE).words()).isEqualTo("body has at least 2 bytes");
        assertThat(new Expectations.Expectation.JsonValue("$.a", Optional.of("x")).words()).isEqualTo("$.a is x");
        assertThat(new Expectations.Expectation.HeaderHolds("ETag", "").words()).isEqualTo("header ETag is there");
        assertThat(new Capture.Source.Cookie("sid").words()).isEqualTo("cookie sid");
        assertThat(Body.Kind.guess("  [1]")).isEqualTo(Body.Kind.JSON);
        assertThat(Body.Kind.guess("<a/>")).isEqualTo(Body.Kind.XML);
        assertThat(Body.Kind.guess("{{name}}")).as("a placeholder is no object").isEqualTo(Body.Kind.TEXT);
        assertThat(Bytes.of(new byte[]{1, (byte) 0xff})).hasToString("01ff").isEqualTo(Bytes.of(new byte[]{1, -1}));
    }

    @Test
    void aCallMayNotHaveTheNameOfAFigureOfTheGenerator() {
        assertThat(StudyCheck.check(study(of(Call.of("lag", "GET", "/x")), closed(1, ThinkTime.NONE))))
                .anySatisfy(problem -> assertThat(problem.what()).contains("names a figure of the generator"));
    }
}
