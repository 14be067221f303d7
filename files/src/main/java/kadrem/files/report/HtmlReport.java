package kadrem.files.report;

import java.awt.Color;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.Base64;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.files.compare.Distributions;
import kadrem.files.compare.Results;
import kadrem.figures.FigureFonts;
import kadrem.figures.FigureTheme;
import org.jsoup.nodes.DataNode;
import org.jsoup.nodes.Document;
import org.jsoup.nodes.Element;
import org.jsoup.nodes.Entities;

/**
 * The report of a study as one file of HTML that needs nothing else: styles, script, font and figures are inside it, and its own
 * rules forbid it to load anything (Content Security Policy, level 3).
 */
public final class HtmlReport {
    private HtmlReport() {
    }

    /**
     * The report for a browser.
     *
     * @param distributions the response times of all runs that entered; empty where they are not at hand
     * @param made when the report is made
     */
    public static String write(Results results, Optional<Distributions> distributions, Instant made) {
        Document document = document(results, distributions, made, new SvgDrawer());
        String styles = resource("report.css") + face() + resource("dark.css") + darkFigures();
        String script = resource("report.js");
        Element head = document.head();
        head.appendElement("meta").attr("http-equiv", "Content-Security-Policy").attr("content",
                "default-src 'none'; style-src '" + digest(styles) + "'; script-src '" + digest(script)
                        + "'; font-src data:; base-uri 'none'; form-action 'none'");
        head.appendElement("style").appendChild(new DataNode(styles));
        document.body().appendElement("script").appendChild(new DataNode(script));
        return document.outerHtml();
    }

    /** The report for paper: without script and dark side, everything unfolded, and without what is too long for it. */
    static String forPrint(Results results, Optional<Distributions> distributions, Instant made, Drawer drawer) {
        Document document = document(results, distributions, made, drawer);
        document.select("details." + Page.LONG).forEach(details -> {
            String what = details.select("summary").text();
            details.tagName("p").attr("class", "note").text(what + " is in the HTML report.");
        });
        document.select("details").forEach(details -> {
            Element summary = details.selectFirst("summary");
            if (summary != null) {
                summary.tagName("h4");
            }
            details.tagName("div");
        });
        document.head().appendElement("style")
                .appendChild(new DataNode(resource("report.css") + resource("print.css")));
        document.outputSettings().syntax(Document.OutputSettings.Syntax.xml);
        return document.outerHtml();
    }

    private static Document document(Results results, Optional<Distributions> distributions, Instant made,
            Drawer drawer) {
        Document document = Document.createShell("");
        document.outputSettings().prettyPrint(false).escapeMode(Entities.EscapeMode.xhtml)
                .charset(StandardCharsets.UTF_8);
        document.prependChild(new org.jsoup.nodes.DocumentType("html", "", ""));
        document.expectFirst("html").attr("lang", "en");
        document.head().appendElement("meta").attr("charset", "utf-8");
        document.head().appendElement("meta").attr("name", "viewport").attr("content",
                "width=device-width, initial-scale=1");
        document.head().appendElement("meta").attr("name", "referrer").attr("content", "no-referrer");
        document.head().appendElement("title").text(Shown.text(results.study().name()));
        new ReportContent(results, distributions, made).write(new Page(document.body(), drawer));
        return document;
    }

    /** Figures are drawn in the light theme; these rules put the dark theme's colours in the place of its own. */
    private static String darkFigures() {
        var light = new FigureTheme(false);
        var dark = new FigureTheme(true);
        var rules = new StringBuilder("@media screen and (prefers-color-scheme: dark) {\n");
        Map.of(light.paper(), dark.paper(), light.ink(), dark.ink(), light.faint(), dark.faint(), light.muted(),
                dark.muted(), light.zone(), dark.zone(), light.accent(), dark.accent(), light.alarm(), dark.alarm())
                .entrySet().stream().sorted(Comparator.comparing(pair -> pair.getKey().getRGB()))
                .forEach(pair -> List.of("fill", "stroke").forEach(what -> rules.append("  svg [").append(what)
                        .append("=\"").append(rgb(pair.getKey())).append("\"] { ").append(what).append(": ")
                        .append(rgb(pair.getValue())).append("; }\n")));
        return rules.append("}\n").toString();
    }

    /** As the drawing has it. */
    private static String rgb(Color colour) {
        return "rgb(" + colour.getRed() + "," + colour.getGreen() + "," + colour.getBlue() + ")";
    }

    private static String face() {
        try (InputStream in = FigureFonts.open("SourceSans3-Regular")) {
            return "@font-face{font-family:\"" + FigureFonts.TEXT + "\";src:url(data:font/ttf;base64,"
                    + Base64.getEncoder().encodeToString(in.readAllBytes()) + ")}\n";
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
    }

    private static String resource(String name) {
        try (InputStream in = HtmlReport.class.getResourceAsStream("/kadrem/files/report/" + name)) {
            if (in == null) {
                throw new IllegalStateException(name + " is not in the program");
            }
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
    }

    private static String digest(String text) {
        try {
            return "sha256-" + Base64.getEncoder().encodeToString(
                    MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException(impossible);
        }
    }
}
