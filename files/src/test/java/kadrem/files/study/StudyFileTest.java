package kadrem.files.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Annotation;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Metric;
import kadrem.core.study.WatchSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import kadrem.core.study.grammar.Durations;

class StudyFileTest {
    private static final String GOOD = """
            # which one?
            kadrem: 1
            name: Berths
            x-owner: harbour office
            question:
              text: Which one?
              decide:
                - metric: p99   # the one that hurts
                  margin: 10%
            candidates:
              - id: a
                address: http://127.0.0.1:18081/api/
                launch:
                  command: [run, "{{port}}"]
                  readyWithin: 1.5s
              - id: b
                address: http://[::1]:18082
            workload:
              values:
                - {name: day, file: values/days.csv}
                - {name: berth, from: 1, to: 100}
              visits:
                - name: look
                  calls:
                    - {name: one, path: "/berths/{{berth}}?day={{day}}", expect: [200, 404]}
            load:
              model: open
              arrivalsPerSecond: 50   # a quiet day
              warmUp: 2s
              measured: 10s
            plan:
              rounds: 7
              seed: 5
            """;
    @TempDir
    private Path folder;

    private StudyFile read(String text) throws StudyException, IOException {
        Files.createDirectories(folder.resolve("values"));
        Files.writeString(folder.resolve("values/days.csv"),
                "day,weekday\r\n\"2026-07-01\",\"We,d\"\r\n2026-07-02,Thu\r\n");
        Files.writeString(folder.resolve(StudyFile.NAME), text);
        return StudyFile.read(folder);
    }

    private String message(String text) {
        return org.assertj.core.api.Assertions.catchThrowableOfType(StudyException.class, () -> read(text))
                .getMessage();
    }

    @Test
    void readsAStudy() throws Exception {
        StudyFile file = read(GOOD);
        MeasuredStudy study = file.measured();
        assertThat(file.warnings()).isEmpty();
        assertThat(study.question().baseline()).isEqualTo("a");
        assertThat(study.question().decider(Metric.P99).orElseThrow().margin().size()).isEqualTo(0.1);
        assertThat(study.candidates().getFirst().address()).hasToString("http://127.0.0.1:18081/api");
        assertThat(study.candidates().get(1).address()).hasToString("http://[::1]:18082");
        assertThat(study.candidates().getFirst().launch().orElseThrow().readyWithin())
                .isEqualTo(Duration.ofMillis(1500));
        assertThat(study.workload().values().getFirst().text(1)).isEqualTo("2026-07-02");
        assertThat(study.load()).isEqualTo(new LoadProfile.Open(50, LoadProfile.Spacing.CONSTANT, 64,
                Duration.ofSeconds(2), Duration.ofSeconds(10), Duration.ofSeconds(5))
                .withConnectionLimit(LoadProfile.Open.USUAL_LIMIT));
    }

    private static final String WATCH = """
            id: b
                watch:
                  - {name: helper, process: /run/helper.pid}
                  - {name: slice, cgroup: /sys/fs/cgroup/board.slice}
                  - {jvm: 127.0.0.1:9010}
                  - {name: far, ssh: "watcher@[::1]:2222", key: ~/.ssh/id, password: "{{env:PASSPHRASE}}"}
                  - name: board metrics
                    metrics: http://127.0.0.1:9100/metrics
                    series:
                      - {select: 'a_total{b="c"}', unit: calls, role: disk}
                  - {name: db, sql: select 1 as one, database: "jdbc:h2:mem:x", user: sa, counters: [one]}
            """.strip();

    @Test
    void readsWhatIsWatched() throws Exception {
        MeasuredStudy study = read(GOOD.replace("id: b", WATCH).replace("rounds: 7", "rounds: 7\n  idle: 8s"))
                .measured();
        assertThat(study.plan().idle()).isEqualTo(Duration.ofSeconds(8));
        assertThat(read(GOOD).study().plan().idle()).isEqualTo(Duration.ofSeconds(5));
        assertThat(study.candidates().get(1).watch()).containsExactly(
                new WatchSource.ProcessTree("helper", "/run/helper.pid"),
                new WatchSource.ControlGroup("slice", "/sys/fs/cgroup/board.slice"),
                new WatchSource.JavaMachine("jvm", Optional.of("127.0.0.1:9010")),
                new WatchSource.RemoteHost("far", "watcher", "::1", 2222, Optional.of("~/.ssh/id"),
                        "{{env:PASSPHRASE}}"),
                new WatchSource.MetricsEndpoint("board metrics", "http://127.0.0.1:9100/metrics",
                        List.of(new WatchSource.MetricsEndpoint.Choice("a_total{b=\"c\"}", "calls", "disk"))),
                new WatchSource.Counters("db", "jdbc:h2:mem:x", "sa", "", "select 1 as one", List.of("one")));
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', quoteCharacter = '`', value = {
            "process: /run/helper.pid | proces: 1 | candidates[1].watch[0] says none of process, cgroup, jvm, ssh, metrics, sql",
            "process: /run/helper.pid | process: 1, jvm: launched | candidates[1].watch[0].jvm stands beside process",
            "name: slice | name: helper | candidates[1].watch[1].name is \"helper\", which is taken",
            "jvm: 127.0.0.1:9010 | jvm: launched | candidates[1].watch[2].jvm is the launched one, but the candidate is not launched",
            "jvm: 127.0.0.1:9010 | jvm: here | candidates[1].watch[2].jvm is \"here\"",
            "watcher@[::1]:2222 | ::1 | candidates[1].watch[3].ssh is \"::1\". Write it like this: ssh: watcher@db.example:22",
            "{{env:PASSPHRASE}} | open sesame | candidates[1].watch[3].password holds a secret itself",
            "http://127.0.0.1:9100/metrics | ftp://x | candidates[1].watch[4].metrics is \"ftp://x\"",
            "role: disk | role: paper | role is \"paper\". Use one of: cpu, memory, disk, network, threads, custom.",
            "jdbc:h2:mem:x | h2 | candidates[1].watch[5].database is \"h2\"",
            "jdbc:h2:mem:x | jdbc:h2:mem:x;password=y | candidates[1].watch[5].database holds a password"})
    void saysWhatIsWrongWithWhatIsWatched(String part, String spoiled, String expected) {
        assertThat(message(GOOD.replace("id: b", WATCH.replace(part, spoiled)))).contains(expected.strip());
    }

    @Test
    void annotationsAreReadAndKept() throws Exception {
        StudyFile file = read(GOOD + "annotations:\n  - {run: ab12cd34, second: 12, text: the backup began}\n");
        assertThat(file.study().annotations()).containsExactly(new Annotation("ab12cd34", 12, "the backup began"));
        StudyFile more = file.with(List.of(new Edit.Insert("annotations", 1,
                Map.of("run", "ab12cd34", "second", "14", "text", "and ended"))));
        assertThat(more.study().annotations()).hasSize(2);
        assertThat(more.with(List.of(new Edit.Remove("annotations", 0))).study().annotations())
                .containsExactly(new Annotation("ab12cd34", 14, "and ended"));
    }

    /** An editor writes a group as it knows it, and what it does not know stays: in the group, and with its item of a list. */
    @Test
    void whatAnEditorDoesNotKnowStaysInTheGroupThatItWrites() throws Exception {
        StudyFile file = read(
                GOOD.replace("\nload:\n", "\nload:\n  stopWhen: [{metric: p95, over: 2s, for: 20s, x-why: slow},"
                        + " {metric: error-share, over: 5%, for: 10s, then: end, x-why: broken}]\n"));
        Map<String, Object> errors = Map.of("metric", "error-share", "over", "5%", "for", "10s", "then", "end");
        StudyFile fewer = file.with(List.of(new Edit.Put("load", Map.of("stopWhen", Optional.of(List.of(errors))))));
        assertThat(fewer.text()).contains("x-why: broken").doesNotContain("x-why: slow");
        StudyFile other = fewer.with(List.of(new Edit.Put("load", Map.of("stopWhen", Optional.of(List.of(
                Map.of("metric", "error-share", "over", "7%", "for", "10s", "then", "end")))))));
        assertThat(other.text()).contains("7%").contains("x-why: broken");
        StudyFile two = other.with(List.of(new Edit.Put("workload.visits[0].calls[0]", Map.of("capture", Optional.of(
                Map.of("found", Map.of("json", "$.id")))))));
        StudyFile noted = two.with(List.of(new Edit.Put("workload.visits[0].calls[0].capture.found",
                Map.of("x-why", Optional.of("the next call needs it")))));
        assertThat(noted.with(List.of(new Edit.Put("workload.visits[0].calls[0]", Map.of("capture", Optional.of(
                Map.of("found", Map.of("json", "$.berth"))))))).text()).contains("$.berth")
                .contains("the next call needs it");
    }

    @Test
    void aLinkToSomethingOutsideIsNoValueList() throws Exception {
        Path study = Files.createDirectories(folder.resolve("linked"));
        Files.createDirectories(study.resolve("values"));
        Files.createSymbolicLink(study.resolve("values/days.csv"), Path.of("/etc/passwd"));
        Files.writeString(study.resolve("study.yaml"), GOOD);
        assertThatThrownBy(() -> StudyFile.read(study)).isInstanceOf(StudyException.class)
                .hasMessageContaining("a link to something outside the study");
    }

    /** A pipe that nobody writes to would be waited for, and a very large file taken apart for minutes. */
    @Test
    @Timeout(20)
    void aStudyIsAPlainFileOfAModestSize() throws Exception {
        Path study = Files.createDirectories(folder.resolve("odd"));
        Path file = study.resolve("study.yaml");
        assertThat(new ProcessBuilder("mkfifo", file.toString()).start().waitFor()).isZero();
        assertThatThrownBy(() -> StudyFile.read(study)).hasMessageContaining("is no plain file");
        Files.delete(file);
        Files.writeString(file, "a: [" + "[".repeat(9 << 20));
        assertThatThrownBy(() -> StudyFile.read(study)).hasMessageContaining("has more than 8 MiB");
    }

    /** Each row is a way to spoil a good study: what is replaced, by what, and what the message must name. */
    @ParameterizedTest
    @CsvSource(delimiter = '|', quoteCharacter = '`', value = {
            "arrivalsPerSecond: 50 | arrivalsPerSecond: fast | line 28: load.arrivalsPerSecond is \"fast\". Write it like this: arrivalsPerSecond: 400",
            "measured: 10s | measured: 10 | line 30: load.measured is \"10\". Write it like this: measured: 20s",
            "measured: 10s | measured: 1500ms | line 30: load.measured is 1500ms. Use whole seconds, such as 5s.",
            "model: open | model: half-open | line 27: load.model is \"half-open\". Use one of: open, closed.",
            "metric: p99 | metric: p42 | line 8: question.decide[0].metric is \"p42\". Use one of: p50",
            "id: b | id: a | line 16: candidates[1].id is \"a\" a second time. Give each candidate its own id.",
            "[::1]:18082 | a b | line 17: candidates[1].address is \"http://a b\". Write it like this",
            "days.csv | none.csv | line 20: workload.values[0].file is \"values/none.csv\", and there is no such file",
            "values/days.csv | ../../days.csv | which lies outside the study",
            "name: day, | name: tag, | line 20: workload.values[0].column is \"tag\", but values/days.csv has the columns day, weekday",
            "{{berth}} | {{quay}} | line 25: workload.visits[0].calls[0] uses {{quay}}, but no value list has that name",
            "kadrem: 1 | kadrem: 9 | line 2: kadrem is \"9\". This Kadrem reads studies of format 1.",
            "name: Berths | name: [Berths] | line 3: name is a list, but should be a single value",
            "name: Berths | name: *n | line 3: ",
            "x-owner: | name: | line 4: this is not valid YAML: the field \"name\" stands here a second time",
            "rounds: 7 | rounds: 0 | line 32: plan.rounds is 0. Use a number from 1 to 1000.",
            "seed: 5 | seed: \"5 | this is not valid YAML"})
    void saysWhereWhatAndHowToMend(String part, String spoiled, String expected) {
        assertThat(message(GOOD.replace(part, spoiled))).contains(expected.strip());
    }

    @Test
    void tellsAllProblemsAtOnce() {
        String text = GOOD.replace("measured: 10s", "measured: soon").replace("id: b", "id: B!").replace("path: \"/",
                "path: \"");
        assertThat(message(text).lines()).hasSize(3);
        assertThat(message(GOOD.replace("id: b", "id: B!").replace("path: \"/", "path: \"")).lines()).hasSize(2);
    }

    @Test
    void anUnknownFieldIsToldAndKept() throws Exception {
        StudyFile file = read(GOOD.replace("  seed: 5", "  seeed: 5"));
        assertThat(file.warnings()).singleElement().satisfies(warning -> assertThat(warning.toString()).isEqualTo(
                "line 33: plan.seeed is not a field that Kadrem knows; it is kept, without effect. Did you mean seed?"
                        + " Names that begin with x- are yours to use."));
        assertThat(file.with(Map.of("plan.rounds", "9")).text()).contains("seeed: 5");
    }

    @Test
    void anEditChangesOneValueAndNothingElse() throws Exception {
        StudyFile edited = read(GOOD).with(Map.of("load.arrivalsPerSecond", "75"));
        assertThat(edited.text())
                .isEqualTo(
                        GOOD.replace("arrivalsPerSecond: 50   # a quiet day", "arrivalsPerSecond: 75   # a quiet day"));
        edited.save();
        assertThat(StudyFile.read(folder).study()).isEqualTo(edited.study());
        assertThat(folder.toFile().list()).containsExactlyInAnyOrder("study.yaml", "values");
    }

    @Test
    void theModelCanBeChangedAndChangedBack() throws Exception {
        var fields = new LinkedHashMap<String, String>();
        fields.put("load.model", "closed");
        fields.put("load.users", "20");
        StudyFile closed = read(GOOD).with(fields);
        assertThat(closed.measured().load()).isInstanceOf(LoadProfile.Closed.class);
        assertThat(closed.warnings()).isEmpty();
        StudyFile open = closed.with(Map.of("load.model", "open"));
        assertThat(open.measured().load()).isEqualTo(read(GOOD).measured().load());
    }

    @Test
    void anEditThatWouldSpoilTheStudyIsRefused() throws Exception {
        StudyFile file = read(GOOD);
        assertThatThrownBy(() -> file.with(Map.of("load.measured", "never"))).isInstanceOf(StudyException.class)
                .hasMessageContaining("load.measured is \"never\"");
        assertThat(Files.readString(folder.resolve(StudyFile.NAME))).isEqualTo(GOOD);
    }

    @Test
    void missingAndUnreadableFilesAreExplained() throws Exception {
        assertThatThrownBy(() -> StudyFile.read(folder.resolve("nowhere"))).hasMessageContaining("There is no study at")
                .hasMessageContaining("Give the folder that holds its study.yaml");
        assertThatThrownBy(() -> StudyFile.read(folder)).hasMessageContaining("There is no study.yaml in");
        Files.write(folder.resolve(StudyFile.NAME), new byte[]{(byte) 0xff, (byte) 0xfe, 0x00});
        assertThatThrownBy(() -> StudyFile.read(folder)).hasMessageContaining("is not UTF-8 text");
        assertThat(message("")).contains("the file is empty");
        assertThat(message("a: ".repeat(3) + "b")).contains("line 1: this is not valid YAML");
        assertThat(message("[".repeat(100) + "]".repeat(100))).contains("not valid YAML").contains("depth");
        assertThat(message("- a\n- b\n")).contains("line 1: this is a list, and not a study").hasLineCount(1);
        assertThat(message("name: \"a\\0b\"\n")).contains("line 1: this text holds the character U+0000");
        assertThat(message("x-a: &n 1\nname: *n\n")).contains("line 2: aliases (*) are not read");
    }

    @ParameterizedTest
    @CsvSource({"250ms, 250000000", "5s, 5000000000", "1.5s, 1500000000", "2min, 120000000000", "1h, 3600000000000"})
    void durationsAreReadAndWritten(String text, long nanos) {
        Duration duration = Durations.parse(text).orElseThrow();
        assertThat(duration.toNanos()).isEqualTo(nanos);
        assertThat(Durations.parse(Durations.write(duration))).hasValue(duration);
        assertThat(Durations.parse("soon")).isEmpty();
        assertThat(Durations.parse("-1s")).isEmpty();
    }
}
