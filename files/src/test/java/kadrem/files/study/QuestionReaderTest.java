package kadrem.files.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Factor;
import kadrem.core.study.Study;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The question as it is written: weights, judged factors, an adaptive plan, and rounds that are left out. */
class QuestionReaderTest {
    @TempDir
    private Path folder;

    private StudyFile read(String weight, String judge, String plan, String soundness) throws Exception {
        Files.writeString(folder.resolve("study.yaml"), """
                kadrem: 1
                name: Berths
                question:
                  text: Which one?
                  decide:
                    - {metric: p99, margin: 10%%, weight: %s}
                    - {metric: cpu-per-1000, margin: 10%%}
                %s
                candidates:
                  - {id: pool, address: "http://127.0.0.1:18081"}
                  - {id: loop, address: "http://127.0.0.1:18082"}
                workload:
                  visits:
                    - {name: look, calls: [{name: one, path: /berths/1}]}
                load: {model: open, arrivalsPerSecond: 5, connections: 4, warmUp: 1s, measured: 2s}
                plan: %s
                soundness: %s
                """.formatted(weight, judge, plan, soundness));
        return StudyFile.read(folder);
    }

    @Test
    void weightsFactorsAndTheirScoresAreRead() throws Exception {
        StudyFile file = read("3", """
                  judge:
                    - factor: operation
                      weight: 2
                      scores:
                        pool: {step: 5, reason: we run two of these}
                        loop: {step: 2, reason: nobody knows it yet}
                    - factor: licence
                """, "{rounds: 9, adaptive: {atMost: 30}}", "{leftOut: [{round: 3, reason: the backup ran}]}");
        Study study = file.study();
        assertThat(study.question().deciders()).extracting("weight").containsExactly(3.0, 1.0);
        assertThat(study.question().factors()).hasSize(2);
        Factor operation = study.question().factors().getFirst();
        assertThat(operation.scores().get("pool").words()).isEqualTo("a lasting help");
        assertThat(operation.scores().get("loop").reason()).isEqualTo("nobody knows it yet");
        assertThat(study.plan().isAdaptive()).isTrue();
        assertThat(study.plan().most()).isEqualTo(30);
        assertThat(study.judgement().whyLeftOut(3)).hasValue("the backup ran");
        assertThat(file.warnings()).isEmpty();
    }

    /** One default, whoever fills it in: 5 % of a ratio, 0.1 points of a share of errors. */
    @Test
    void aMarginThatIsLeftOutIsThatOfItsMetric() throws Exception {
        read("1", "", "{}", "{}");
        Path file = folder.resolve("study.yaml");
        Files.writeString(file, Files.readString(file).replace("{metric: p99, margin: 10%, weight: 1}", "{metric: p99}")
                .replace("{metric: cpu-per-1000, margin: 10%}", "{metric: error-share}"));
        assertThat(StudyFile.read(folder).study().question().deciders()).extracting("margin.size")
                .containsExactly(0.05, 0.001);
    }

    @Test
    void whatIsWrongIsToldWithItsPlace() {
        assertThatThrownBy(() -> read("-1", "", "{}", "{}")).hasMessageContaining("question.decide[0].weight")
                .hasMessageContaining("0 to 1000");
        assertThatThrownBy(() -> read("1", "  judge: [{factor: operation, scores: {pool: {step: 7, reason: x}}}]", "{}",
                "{}")).hasMessageContaining("step").hasMessageContaining("step is 7. Use a number from 1 to 5");
        assertThatThrownBy(() -> read("1", "  judge: [{factor: operation, scores: {pool: {step: 4}}}]", "{}", "{}"))
                .hasMessageContaining("reason");
        assertThatThrownBy(() -> read("1", "", "{adaptive: {atMost: 0}}", "{}"))
                .hasMessageContaining("plan.adaptive.atMost");
    }

    @Test
    void aScoreOfNobodyIsOdd() throws Exception {
        assertThat(read("1", "  judge: [{factor: operation, scores: {raft: {step: 4, reason: x}}}]", "{}", "{}")
                .warnings()).anyMatch(one -> one.toString().contains("raft"));
    }

    @Test
    void aScoreIsWrittenByAnEdit() throws Exception {
        StudyFile changed = read("1", "", "{}", "{}").with(List.of(
                new Edit.Insert("question.judge", 0, Map.of("factor", "operation", "weight", 1, "scores",
                        Map.of("pool", Map.of("step", 4, "reason", "known")))),
                new Edit.Put("question.decide[1]", Map.of("weight", Optional.of(0.5)))));
        assertThat(changed.study().question().factors().getFirst().scores().get("pool").step()).isEqualTo(4);
        assertThat(changed.study().question().deciders().get(1).weight()).isEqualTo(0.5);
    }
}
