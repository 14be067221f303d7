package kadrem.files.report;

import java.io.StringWriter;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;

import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.core.verdict.Outcome;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.RequirementResult;
import kadrem.core.verdict.Verdict;
import kadrem.core.verdict.Wording;

/**
 * Results as a test report that build servers read: JUnit's XML with one test case for each requirement of a candidate and for each
 * comparison that decides. A requirement that is missed has failed; what is not shown or not settled was skipped.
 */
public final class TestReport {
    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("uuuu-MM-dd'T'HH:mm:ss")
            .withZone(ZoneOffset.UTC);
    /** XML 1.0 has no place for other control characters, not even escaped. */
    private static final String NOT_IN_XML = "[^\\u0009\\u000A\\u0020-\\uD7FF\\uE000-\\uFFFD\\x{10000}-\\x{10FFFF}]";

    private final List<Case> cases = new ArrayList<>();
    private final String name;

    /** What became of a case. */
    private enum State {
        PASSED, FAILED, SKIPPED
    }

    private record Case(String group, String name, State state, String kind, String sentence) {
    }

    private TestReport(String name) {
        this.name = name;
    }

    /** The report on a verdict. */
    public static String of(Verdict verdict, Instant made) {
        return of(verdict, Optional.empty(), made);
    }

    /** The report on a verdict in which a candidate that is settled worse than its baseline has failed. */
    public static String ofRegression(Verdict verdict, Instant made) {
        return of(verdict, Optional.of(verdict.comparison().study().question().baseline()), made);
    }

    private static String of(Verdict verdict, Optional<String> guarded, Instant made) {
        Study study = verdict.comparison().study();
        var report = new TestReport(study.name());
        verdict.requirements().forEach(one -> report.add(study, one));
        verdict.comparison().pairs().stream().filter(PairComparison::deciding)
                .forEach(pair -> report.add(study, pair, guarded));
        return report.xml(made);
    }

    private void add(Study study, RequirementResult one) {
        State state = switch (one.answer()) {
            case MET -> State.PASSED;
            case MISSED -> State.FAILED;
            case NOT_SHOWN -> State.SKIPPED;
        };
        cases.add(new Case("requirement", name(study, one.candidate()) + ": " + RequirementResult.words(
                one.requirement()), state, "requirement-missed", one.sentence()));
    }

    private void add(Study study, PairComparison pair, Optional<String> guarded) {
        boolean worse = guarded.filter(pair.baseline()::equals).isPresent()
                && (pair.outcome() == Outcome.WORSE || pair.outcome() == Outcome.WORSE_BY_MORE);
        State state = worse ? State.FAILED : pair.outcome().isSettled() ? State.PASSED : State.SKIPPED;
        cases.add(new Case("comparison", pair.metric().label() + ": " + name(study, pair.candidate()) + " against "
                + name(study, pair.baseline()), state, "worse",
                Wording.finding(study, pair) + ": " + Wording.outcome(pair) + "."));
    }

    private static String name(Study study, String id) {
        return study.candidate(id).map(Candidate::name).orElse(id);
    }

    private long count(State state) {
        return cases.stream().filter(one -> one.state() == state).count();
    }

    private String xml(Instant made) {
        var text = new StringWriter();
        try {
            XMLStreamWriter out = XMLOutputFactory.newDefaultFactory().createXMLStreamWriter(text);
            out.writeStartDocument("UTF-8", "1.0");
            out.writeCharacters("\n");
            out.writeStartElement("testsuite");
            attribute(out, "name", name);
            attribute(out, "timestamp", TIME.format(made));
            attribute(out, "time", "0");
            attribute(out, "tests", Integer.toString(cases.size()));
            attribute(out, "failures", Long.toString(count(State.FAILED)));
            attribute(out, "errors", "0");
            attribute(out, "skipped", Long.toString(count(State.SKIPPED)));
            for (Case one : cases) {
                write(out, one);
            }
            out.writeCharacters("\n");
            out.writeEndElement();
            out.writeCharacters("\n");
            out.writeEndDocument();
            out.close();
        } catch (XMLStreamException impossible) {
            throw new IllegalStateException(impossible);
        }
        return text.toString();
    }

    private void write(XMLStreamWriter out, Case one) throws XMLStreamException {
        out.writeCharacters("\n  ");
        out.writeStartElement("testcase");
        attribute(out, "name", one.name());
        attribute(out, "classname", "kadrem." + one.group());
        attribute(out, "time", "0");
        switch (one.state()) {
            case FAILED -> {
                out.writeStartElement("failure");
                attribute(out, "message", one.sentence());
                attribute(out, "type", one.kind());
                out.writeEndElement();
            }
            case SKIPPED -> {
                // the common schema has no attribute here
                out.writeStartElement("skipped");
                out.writeCharacters(one.sentence().replaceAll(NOT_IN_XML, "\uFFFD"));
                out.writeEndElement();
            }
            case PASSED -> {
                out.writeStartElement("system-out");
                out.writeCharacters(one.sentence().replaceAll(NOT_IN_XML, "\uFFFD"));
                out.writeEndElement();
            }
        }
        out.writeEndElement();
    }

    private static void attribute(XMLStreamWriter out, String name, String value) throws XMLStreamException {
        out.writeAttribute(name, value.replaceAll(NOT_IN_XML, "\uFFFD"));
    }
}
