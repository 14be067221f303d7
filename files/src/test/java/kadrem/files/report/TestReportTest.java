package kadrem.files.report;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;

import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.RequirementResult;
import kadrem.core.verdict.Verdict;
import kadrem.files.compare.Results;
import org.apache.maven.plugin.surefire.log.api.NullConsoleLogger;
import org.apache.maven.plugins.surefire.report.ReportTestCase;
import org.apache.maven.plugins.surefire.report.SurefireReportParser;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The test report of a verdict, read by the reader that Maven's own report has (surefire-report-parser). */
class TestReportTest {
    @TempDir
    private Path folder;

    /** The schema that build servers use: junit-4.xsd of 2010, MIT licence, its origin in the file. */
    @Test
    void theReportIsValidAgainstTheCommonSchema() throws Exception {
        Verdict verdict = Results.read(Path.of("../demo/harbour-berths")).verdict();
        var schema = javax.xml.validation.SchemaFactory.newInstance(javax.xml.XMLConstants.W3C_XML_SCHEMA_NS_URI)
                .newSchema(TestReportTest.class.getResource("/kadrem/files/report/junit.xsd"));
        for (String xml : List.of(TestReport.of(verdict, Instant.EPOCH),
                TestReport.ofRegression(verdict, Instant.EPOCH))) {
            schema.newValidator().validate(new javax.xml.transform.stream.StreamSource(new java.io.StringReader(xml)));
        }
    }

    @Test
    void mavensReaderFindsACaseForEachRequirementAndComparison() throws Exception {
        Verdict verdict = Results.read(Path.of("../demo/harbour-berths")).verdict();
        String xml = TestReport.of(verdict, Instant.parse("2026-07-01T12:00:00Z"));
        Files.writeString(folder.resolve("TEST-kadrem.xml"), xml);
        List<ReportTestCase> cases = new SurefireReportParser(List.of(folder.toFile()), new NullConsoleLogger())
                .parseXMLReportFiles().stream().flatMap(suite -> suite.getTestCases().stream()).toList();
        long comparisons = verdict.comparison().pairs().stream().filter(PairComparison::deciding).count();
        assertThat(cases).hasSize((int) comparisons + verdict.requirements().size());
        assertThat(cases.stream().filter(ReportTestCase::hasSkipped)).as("not shown, not settled")
                .hasSize((int) (verdict.requirements().stream()
                        .filter(one -> one.answer() == RequirementResult.Answer.NOT_SHOWN).count()
                        + verdict.comparison().pairs().stream()
                                .filter(pair -> pair.deciding() && !pair.outcome().isSettled()).count()));
        assertThat(cases.stream().filter(ReportTestCase::hasFailure)).isEmpty();
        assertThat(cases).anyMatch(one -> one.getName().startsWith("Event loop + cache: p99"));
    }

    @Test
    void aCandidateThatIsWorseThanItsReferenceHasFailed() throws Exception {
        Verdict verdict = Results.read(Path.of("../demo/harbour-berths")).verdict();
        // the same comparison seen from the fastest candidate: the others are worse than it
        var study = verdict.comparison().study().measured().orElseThrow();
        var asked = study.question();
        var turned = new kadrem.core.study.MeasuredStudy(study.name(),
                new kadrem.core.study.Question(asked.text(), "loop", asked.significance(), asked.deciders(),
                        asked.requirements()),
                study.candidates(), study.workload(), study.load(), study.plan(), study.agreement(), study.intended(),
                study.judgement());
        Verdict seen = Verdict.of(kadrem.core.verdict.Comparison.of(turned,
                Results.read(Path.of("../demo/harbour-berths")).runs()), java.util.Optional.empty(), 1);
        Files.writeString(folder.resolve("TEST-kadrem.xml"), TestReport.ofRegression(seen, Instant.EPOCH));
        List<ReportTestCase> failed = new SurefireReportParser(List.of(folder.toFile()), new NullConsoleLogger())
                .parseXMLReportFiles().stream().flatMap(one -> one.getTestCases().stream())
                .filter(ReportTestCase::hasFailure).toList();
        assertThat(failed).hasSize(2).allMatch(one -> one.getFailureType().equals("worse"))
                .allMatch(one -> one.getFailureMessage().contains(" of Event loop + cache ("));
    }
}
