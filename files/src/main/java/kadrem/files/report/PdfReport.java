package kadrem.files.report;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.time.Instant;
import java.util.Optional;
import java.util.logging.Level;

import com.openhtmltopdf.outputdevice.helper.BaseRendererBuilder.FontStyle;
import com.openhtmltopdf.pdfboxout.PdfRendererBuilder;
import com.openhtmltopdf.util.XRLog;
import kadrem.files.compare.Distributions;
import kadrem.files.compare.Results;
import kadrem.figures.FigureFonts;

/** The report of a study as PDF, on pages of A4. */
public final class PdfReport {
    private static final int REGULAR = 400;
    private static final int SEMIBOLD = 600;
    private static final int BOLD = 700;

    private PdfReport() {
    }

    /** As {@link HtmlReport#write}. */
    public static byte[] write(Results results, Optional<Distributions> distributions, Instant made)
            throws IOException {
        XRLog.listRegisteredLoggers().forEach(name -> XRLog.setLevel(name, Level.SEVERE));
        var out = new ByteArrayOutputStream();
        var builder = new PdfRendererBuilder();
        builder.useFont(() -> FigureFonts.open("SourceSans3-Regular"), FigureFonts.TEXT, REGULAR, FontStyle.NORMAL,
                true);
        builder.useFont(() -> FigureFonts.open("SourceSans3-Semibold"), FigureFonts.TEXT, SEMIBOLD, FontStyle.NORMAL,
                true);
        builder.useFont(() -> FigureFonts.open("SourceSans3-Bold"), FigureFonts.TEXT, BOLD, FontStyle.NORMAL, true);
        builder.useFont(() -> FigureFonts.open("SourceCodePro-Regular"), "Source Code Pro", REGULAR, FontStyle.NORMAL,
                true);
        var drawer = new PaperDrawer();
        builder.useObjectDrawerFactory(drawer.factory());
        // nothing is fetched, whatever a study's texts say
        builder.useUriResolver((_, _) -> null);
        builder.withHtmlContent(HtmlReport.forPrint(results, distributions, made, drawer), "");
        builder.toStream(out);
        builder.run();
        return out.toByteArray();
    }
}
