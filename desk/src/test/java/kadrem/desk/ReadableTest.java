package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.TimeUnit;

import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Control;
import javafx.scene.control.Label;
import javafx.scene.control.Labeled;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Spinner;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.BackgroundFill;
import javafx.scene.layout.Region;
import javafx.scene.paint.Color;
import javafx.scene.text.Text;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.util.WaitForAsyncUtils;

/**
 * Every text of every station can be read in both themes: its contrast with what lies behind it is at least 4.5 : 1, or 3 : 1 where it is large
 * (Web Content Accessibility Guidelines 2.1, success criterion 1.4.3; what is switched off is excepted there), and everything that takes the
 * keyboard has a name for screen readers (criterion 4.1.2). Text that figures draw on their canvas is not among them.
 */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
@Timeout(value = 5, unit = TimeUnit.MINUTES)
class ReadableTest {
    private static final double ENOUGH = 4.5;
    private static final double ENOUGH_WHERE_LARGE = 3;
    /** 18 points, or 14 where bold, at 96 pixels an inch: what the guidelines call large. */
    private static final double LARGE = 24;
    private static final double LARGE_BOLD = 18.66;
    private static final List<String> STATIONS = List.of("question", "candidates", "workload", "load", "rehearsal",
            "measure", "examine", "compare", "verdict");

    @TempDir
    private Path folder;
    private final DrivenWindow window = new DrivenWindow();

    @BeforeEach
    void begin() throws Exception {
        window.prepare();
    }

    @AfterEach
    void end() throws Exception {
        window.close();
    }

    private static double luminance(Color colour) {
        return 0.2126 * linear(colour.getRed()) + 0.7152 * linear(colour.getGreen())
                + 0.0722 * linear(colour.getBlue());
    }

    private static double linear(double channel) {
        return channel <= 0.03928 ? channel / 12.92 : Math.pow((channel + 0.055) / 1.055, 2.4);
    }

    private static double contrast(Color one, Color other) {
        double first = luminance(one) + 0.05;
        double second = luminance(other) + 0.05;
        return Math.max(first, second) / Math.min(first, second);
    }

    /** The extremes of the formula, and the grey that is known to be the lightest readable one on white (from memory). */
    @Test
    void contrastIsThatOfTheGuidelines() {
        assertThat(contrast(Color.BLACK, Color.WHITE)).isEqualTo(21, within(1e-9));
        assertThat(contrast(Color.web("#767676"), Color.WHITE)).isEqualTo(4.54, within(0.005));
        assertThat(contrast(Color.web("#777777"), Color.WHITE)).isLessThan(ENOUGH);
    }

    private static Color over(Color front, Color behind) {
        return behind.interpolate(new Color(front.getRed(), front.getGreen(), front.getBlue(), 1),
                front.getOpacity());
    }

    private static Color behind(Node node) {
        List<Color> layers = new ArrayList<>();
        for (Node at = node.getParent(); at != null; at = at.getParent()) {
            if (at instanceof Region region && region.getBackground() != null) {
                List<BackgroundFill> fills = region.getBackground().getFills();
                for (int i = fills.size() - 1; i >= 0; i--) {
                    if (fills.get(i).getFill() instanceof Color colour && colour.getOpacity() > 0) {
                        layers.add(colour);
                    }
                }
            }
            if (!layers.isEmpty() && layers.getLast().getOpacity() > 0.999) {
                break;
            }
        }
        Color colour = Color.WHITE;
        for (int i = layers.size() - 1; i >= 0; i--) {
            colour = over(layers.get(i), colour);
        }
        return colour;
    }

    private static void judge(String where, Text text, Set<String> faint) {
        if (text.getText().isBlank() || text.isDisabled() || !DrivenWindow.isSeen(text)
                || !(text.getFill() instanceof Color colour)) {
            return;
        }
        Color ground = behind(text);
        double ratio = contrast(over(colour, ground), ground);
        double size = text.getFont().getSize();
        boolean large = size >= LARGE || size >= LARGE_BOLD && text.getFont().getStyle().contains("Bold");
        if (ratio < (large ? ENOUGH_WHERE_LARGE : ENOUGH)) {
            String words = text.getText().lines().findFirst().orElse("");
            faint.add(String.format(Locale.ROOT, "%s: \"%s\" %.2f : 1, %s on %s, in %s", where,
                    words.substring(0, Math.min(30, words.length())), ratio, colour, ground,
                    text.getParent() == null ? "" : text.getParent().getStyleClass()));
        }
    }

    private static boolean isPartOfAnother(Node node) {
        for (Node at = node.getParent(); at != null; at = at.getParent()) {
            if (at instanceof Spinner || at instanceof ComboBox) {
                return true;
            }
        }
        return false;
    }

    private static void ask(String where, Node node, Set<Node> labelled, Set<String> nameless) {
        if (!(node instanceof Control control) || control instanceof ScrollPane || !control.isFocusTraversable()
                || !DrivenWindow.isSeen(control) || isPartOfAnother(control)) {
            return;
        }
        boolean named = control.getAccessibleText() != null && !control.getAccessibleText().isBlank()
                || control instanceof Labeled words && words.getText() != null && !words.getText().isBlank()
                || labelled.contains(control);
        if (!named) {
            nameless.add(where + ": " + control.getClass().getSimpleName() + " #" + control.getId() + " "
                    + control.getStyleClass());
        }
    }

    /** What of the stage cannot be read, or has no name. */
    private void look(String where, Set<String> faint, Set<String> nameless) throws Exception {
        TimeUnit.MILLISECONDS.sleep(400);
        WaitForAsyncUtils.waitForFxEvents();
        WaitForAsyncUtils.asyncFx(() -> {
            Parent root = window.robot().lookup("#middle").query().getScene().getRoot();
            Set<Node> labelled = new java.util.HashSet<>();
            DrivenWindow.each(root, node -> {
                if (node instanceof Label label && label.getLabelFor() != null) {
                    labelled.add(label.getLabelFor());
                }
            });
            DrivenWindow.each(root, node -> {
                if (node instanceof Text text) {
                    judge(where, text, faint);
                }
                ask(where, node, labelled, nameless);
            });
        }).get();
    }

    @Test
    void allCanBeReadAndHasAName() throws Exception {
        var faint = new TreeSet<String>();
        var nameless = new TreeSet<String>();
        window.open(DrivenWindow.copyOfDemo(folder));
        DrivenWindow.await("the evidence", () -> window.says("evidence-sentence", "p95"));
        for (boolean dark : new boolean[]{false, true}) {
            ToggleButton theme = (ToggleButton) window.robot()
                    .lookup((Node node) -> node instanceof ToggleButton button && "Dark".equals(button.getText()))
                    .query();
            WaitForAsyncUtils.asyncFx(() -> theme.setSelected(dark)).get();
            for (String station : STATIONS) {
                window.go(station);
                look(station + (dark ? ", dark" : ""), faint, nameless);
            }
        }
        assertThat(faint).as("texts that cannot be read well").isEmpty();
        assertThat(nameless).as("controls without a name").isEmpty();
    }

    @Test
    void theFirstScreenCanBeReadAndHasNames() throws Exception {
        var faint = new TreeSet<String>();
        var nameless = new TreeSet<String>();
        window.openEmpty();
        DrivenWindow.await("the first screen", () -> window.isThere("given"));
        look("first screen", faint, nameless);
        assertThat(faint).isEmpty();
        assertThat(nameless).isEmpty();
    }
}
