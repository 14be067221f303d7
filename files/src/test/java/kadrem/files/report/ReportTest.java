package kadrem.files.report;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Base64;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;

import com.fasterxml.jackson.databind.JsonNode;
import kadrem.files.compare.Results;
import kadrem.fixtures.Programs;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.jsoup.Jsoup;
import org.jsoup.nodes.Document;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The documents of the demo study, read as a colleague's browser, PDF reader and repository would. */
class ReportTest {
    private static final Path DEMO = Path.of("../demo/harbour-berths");
    private static final Instant NOON = Instant.parse("2026-07-01T12:00:00Z");
    /** Sets a mark if it is ever run. */
    private static final String HOSTILE = "\"><script>document.title='taken'</script><img src=x onerror=document.title='taken'>'"
            + "</style></title> \u202Egnp.exe\u202C \u0007 & {{7*7}}";

    @TempDir
    private Path folder;

    private Document html(Results results) throws Exception {
        return Jsoup.parse(Files.readString(ReportFiles.write(results, Set.of(ReportFiles.Kind.html), folder, NOON)
                .getFirst()));
    }

    private Path copy(String name) throws Exception {
        Path study = folder.resolve(name);
        try (Stream<Path> files = Files.walk(DEMO)) {
            for (Path file : files.toList()) {
                Path copy = study.resolve(DEMO.relativize(file).toString());
                if (Files.isDirectory(file)) {
                    Files.createDirectories(copy);
                } else {
                    Files.copy(file, copy);
                }
            }
        }
        return study;
    }

    /** A copy of the demo study in which people and candidates said what they should not. */
    private Results hostile() throws Exception {
        Path study = copy("hostile");
        String quoted = new com.fasterxml.jackson.databind.ObjectMapper().writeValueAsString(HOSTILE);
        Path text = study.resolve("study.yaml");
        Files.writeString(text, Files.readString(text).replace("name: Thread pool + SQL", "name: " + quoted)
                .replace("name: Harbour berth board", "name: " + quoted)
                .replace("reason: the same server with another kind of thread", "reason: " + quoted));
        Path run;
        try (Stream<Path> runs = Files.list(study.resolve("runs"))) {
            run = runs.filter(one -> one.getFileName().toString().startsWith("003-pool")).findFirst().orElseThrow()
                    .resolve("run.json");
        }
        Files.writeString(run, Files.readString(run).replaceFirst("(\"server\"\\s*:\\s*)\"[^\"]*\"",
                "$1" + java.util.regex.Matcher.quoteReplacement(quoted)));
        return Results.read(study);
    }

    @Test
    void theReportTellsTheWholeStudyInOneFile() throws Exception {
        Document page = html(Results.read(DEMO));
        assertThat(page.select("section > h2").eachText()).containsExactly("Verdict", "What was asked", "Comparison",
                "Results of each candidate", "Soundness", "Set-up", "Like for like", "Methods", "How to repeat it");
        assertThat(page.select(".recommendation").text()).contains("is recommended");
        assertThat(page.select("#comparison figure svg")).as("runs, intervals, curves, differences, cost, order")
                .hasSizeGreaterThanOrEqualTo(6);
        assertThat(page.select("#comparison svg .value title").eachText()).anyMatch(text -> text.contains("ms"));
        assertThat(page.select("#candidates details tbody tr")).hasSize(Results.read(DEMO).runs().size());
        assertThat(page.select("#comparison table caption").eachText())
                .contains("Each pair on each deciding metric, call by call");
        assertThat(page.select("#comparison details:has(caption:contains(call by call)) tbody th").eachText())
                .contains("free-berths", "one-berth");
        var aside = Results.read(DEMO).comparison().setAside();
        assertThat(page.select("#soundness").text()).contains(aside.rounds().isEmpty()
                ? "Every run enters the comparison"
                : aside.sentences().getLast());
        assertThat(page.select("#methods").text()).contains("Hollander, Wolfe 1973").contains("Lachin 1999")
                .contains("Finner");
        assertThat(page.select("#repeat pre").text()).contains("kadrem measure").contains("kadrem: 1");
        assertThat(page.select("[id]").eachAttr("id")).as("ids of figures do not meet").doesNotHaveDuplicates();
        assertThat(page.select("[style], [onclick], link, iframe, img, object, form"))
                .as("nothing that its own policy forbids").isEmpty();
    }

    @Test
    void sittingsStandSideBySideWhereThereAreSeveral() throws Exception {
        assertThat(html(Results.read(DEMO)).select("#verdict caption").eachText())
                .doesNotContain("Sittings side by side");
        Path study = copy("days");
        try (Stream<Path> runs = Files.list(study.resolve("runs"))) {
            for (Path run : runs.filter(one -> one.getFileName().toString().compareTo("005") > 0).toList()) {
                Path file = run.resolve("run.json");
                Files.writeString(file, Files.readString(file)
                        .replaceAll("(\"(started|ended)\" : \")\\d{4}-\\d\\d-\\d\\d", "$12036-11-29"));
            }
        }
        Document page = html(Results.read(study));
        var table = page.select("#verdict table:has(caption:contains(Sittings side by side))");
        assertThat(table.select("thead th").last().text()).startsWith("2036-11-29");
        assertThat(table.select("tbody tr").first().text()).contains(" of ").contains(" against Thread pool + SQL")
                .contains("% lower in 4 rounds");
    }

    /** Content Security Policy Level 3, W3C: 'none' as the default, and hashes for what is inside. */
    @Test
    void thePolicyOfThePageAllowsNothingButItself() throws Exception {
        Document page = html(Results.read(DEMO));
        String policy = page.select("meta[http-equiv=Content-Security-Policy]").attr("content");
        assertThat(policy).startsWith("default-src 'none'").doesNotContain("unsafe").contains("font-src data:");
        for (String kind : List.of("style", "script")) {
            byte[] digest = java.security.MessageDigest.getInstance("SHA-256")
                    .digest(page.select(kind).first().data().getBytes(StandardCharsets.UTF_8));
            assertThat(policy).contains(kind + "-src 'sha256-" + Base64.getEncoder().encodeToString(digest) + "'");
        }
    }

    @Test
    void whatCandidatesSayIsHarmlessInEveryDocument() throws Exception {
        Results results = hostile();
        ReportFiles.write(results, EnumSet.allOf(ReportFiles.Kind.class), folder, NOON);
        Document page = Jsoup.parse(Files.readString(folder.resolve("report.html")));
        assertThat(page.select("script")).as("the report's own").hasSize(1);
        assertThat(page.select("img")).isEmpty();
        assertThat(page.text()).contains("<script>document.title='taken'</script>").contains("⟨U+202E⟩")
                .contains("⟨U+0007⟩").doesNotContain("\u202E");
        String record = Files.readString(folder.resolve("decision.md"));
        assertThat(record).doesNotContain("\u202E").doesNotContain("<script").contains("&lt;script&gt;");
        try (PDDocument paper = Loader.loadPDF(folder.resolve("report.pdf").toFile())) {
            assertThat(new PDFTextStripper().getText(paper)).contains("<script>").contains("U+202E");
        }
        String junit = TestReport.of(results.verdict(), NOON);
        assertThat(junit).contains("&lt;script").doesNotContain("\u0007");
    }

    /** Over the DevTools protocol: what the browser asked for, ran and showed. */
    @Test
    void aBrowserOpensItFromAFileAndAsksForNothingElse() throws Exception {
        assumeTrue(Programs.orFail("a browser", Browser.program().isPresent()), "there is no chromium on this machine");
        ReportFiles.write(hostile(), Set.of(ReportFiles.Kind.html), folder, NOON);
        Path report = folder.resolve("report.html");
        try (var browser = new Browser(Browser.program().get(), folder.resolve("profile"))) {
            browser.open(report);
            assertThat(browser.events("Network.requestWillBeSent").stream()
                    .map(event -> event.path("request").path("url").asText()).filter(url -> !url.startsWith("data:"))
                    .toList()).as("the file and nothing else").containsExactly(report.toUri().toString());
            assertThat(browser.value("document.title").asText()).startsWith("\"><script>").isNotEqualTo("taken");
            assertThat(browser.events("Log.entryAdded")).as("no rule of the page is broken").isEmpty();
            assertThat(browser.events("Runtime.exceptionThrown")).isEmpty();

            // sorting by a press on a head, as numbers
            browser.value("document.querySelector('#comparison .wide thead th:nth-child(8)').click()");
            JsonNode sorted = browser
                    .value("[...document.querySelector('#comparison .wide').querySelectorAll('tbody tr')]"
                            + ".map(row => Number(row.children[7].dataset.sort))");
            assertThat(sorted).hasSizeGreaterThan(10);
            for (int i = 1; i < sorted.size(); i++) {
                assertThat(sorted.get(i).asDouble()).isGreaterThanOrEqualTo(sorted.get(i - 1).asDouble());
            }
            // a value under the pointer
            JsonNode place = browser.value("(() => { const dot = document.querySelector('#comparison svg .value');"
                    + " dot.scrollIntoView({block: 'center'}); const box = dot.getBoundingClientRect();"
                    + " return {x: box.x + box.width / 2, y: box.y + box.height / 2}; })()");
            browser.call("Input.dispatchMouseEvent", Map.of("type", "mouseMoved", "x", place.path("x").asDouble(), "y",
                    place.path("y").asDouble()));
            assertThat(browser.value("document.getElementById('reading').hidden").asBoolean()).isFalse();
            assertThat(browser.value("document.getElementById('reading').textContent").asText()).contains("ms");
            // the dark side
            String light = browser.value("getComputedStyle(document.querySelector('#comparison svg rect')).fill")
                    .asText();
            browser.call("Emulation.setEmulatedMedia", Map.of("features",
                    List.of(Map.of("name", "prefers-color-scheme", "value", "dark"))));
            assertThat(browser.value("getComputedStyle(document.querySelector('#comparison svg rect')).fill").asText())
                    .isNotEqualTo(light);
            // print
            byte[] printed = Base64.getDecoder()
                    .decode(browser.call("Page.printToPDF", Map.of("printBackground", true)).path("data").asText());
            try (PDDocument paper = Loader.loadPDF(printed)) {
                assertThat(paper.getNumberOfPages()).isBetween(5, 40);
            }
        }
    }

    @Test
    void thePdfHasTheSameFigures() throws Exception {
        ReportFiles.write(Results.read(DEMO), Set.of(ReportFiles.Kind.pdf), folder, NOON);
        try (PDDocument paper = Loader.loadPDF(folder.resolve("report.pdf").toFile())) {
            String text = new PDFTextStripper().getText(paper);
            assertThat(text).contains("Harbour berth board").contains("is recommended").contains("Schuirmann 1987")
                    .contains("is in the HTML report");
            assertThat(paper.getNumberOfPages()).isBetween(6, 20);
        }
    }

    @Test
    void theRecordHasTheFivePartsOfADecision() throws Exception {
        String record = DecisionRecord.write(Results.read(DEMO), NOON);
        assertThat(record.lines().filter(line -> line.startsWith("#"))).containsExactly("# Harbour berth board",
                "## Context", "## Options", "## Evidence", "## Decision", "## Consequences");
        assertThat(record).contains("Date: 2026-07-01").contains("Status: proposed: Event loop + cache")
                .contains("- Thread pool + SQL (pool), the baseline")
                .contains("settled: better by more than the margin");
    }
}
