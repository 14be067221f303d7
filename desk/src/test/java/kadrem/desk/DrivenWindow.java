package kadrem.desk;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import javafx.application.Application;
import javafx.geometry.Bounds;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.control.ButtonBase;
import javafx.scene.control.Labeled;
import javafx.scene.control.ComboBox;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TextField;
import javafx.scene.control.TextInputControl;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.Pane;
import kadrem.desk.start.DeskApplication;
import kadrem.load.gate.Consent;
import org.testfx.api.FxRobot;
import org.testfx.api.FxToolkit;
import org.testfx.service.query.NodeQuery;
import org.testfx.util.WaitForAsyncUtils;

/** The real window in the hands of a test: opened, looked at on its own thread, clicked and typed into. */
final class DrivenWindow {
    private static final long PATIENCE_SECONDS = Long.getLong("kadrem.patience", 180);
    private static final long REST_NANOS = 500_000_000L;
    private final FxRobot robot = new Hands();
    private final DeskApplication[] application = new DeskApplication[1];

    /** Finds what is on the stage and beside it, not what stands ready in stations that are not shown. */
    private static final class Hands extends FxRobot {
        @Override
        public NodeQuery lookup(String query) {
            return super.lookup(query).match(Hands::isOnStage);
        }

        @Override
        public <T extends Node> NodeQuery lookup(Predicate<T> predicate) {
            return super.lookup(predicate).match(Hands::isOnStage);
        }

        private static boolean isOnStage(Node node) {
            for (Node one = node; one.getParent() != null; one = one.getParent()) {
                if (!one.isVisible() && "middle".equals(one.getParent().getId())) {
                    return false;
                }
            }
            return true;
        }
    }

    static {
        // figures use AWT's geometry and fonts, never its windows
        System.setProperty("java.awt.headless", "true");
    }

    static boolean hasDisplay() {
        return System.getenv("DISPLAY") != null || !System.getProperty("os.name").startsWith("Linux");
    }

    FxRobot robot() {
        return robot;
    }

    /** Whether a node of the window may be looked at: it and all around it are visible. */
    static boolean isSeen(Node node) {
        for (Node at = node; at != null; at = at.getParent()) {
            if (!at.isVisible() || at.getOpacity() == 0) {
                return false;
            }
        }
        return node.getScene() != null;
    }

    /** A node and all within it. */
    static void each(Node node, Consumer<Node> told) {
        told.accept(node);
        if (node instanceof Parent parent) {
            parent.getChildrenUnmodifiable().forEach(child -> each(child, told));
        }
    }

    /** How the user left the window, which is kept. */
    static Path kept() {
        return Path.of(System.getenv("XDG_DATA_HOME"), "kadrem", "window.properties");
    }

    void prepare() throws Exception {
        Files.deleteIfExists(kept());
        FxToolkit.registerPrimaryStage();
    }

    void close() throws Exception {
        Application shown = application[0];
        if (shown != null) {
            FxToolkit.cleanupApplication(shown);
            application[0] = null;
        }
        FxToolkit.cleanupStages();
    }

    /** Opens the window with a study that was made here. */
    void open(Path study) throws Exception {
        Consent.ofUser().own(study);
        openFromElsewhere(study);
    }

    /** Opens the window with a study of which nobody has said yet what it may do. */
    void openFromElsewhere(Path study) throws Exception {
        application[0] = (DeskApplication) FxToolkit.setupApplication(DeskApplication.class, "--study",
                study.toString());
        await("the study", () -> robot.lookup("#evidence-sentence").tryQuery().isPresent()
                || robot.lookup("#problem").tryQuery().isPresent());
    }

    /** Opens the window without a study. */
    void openEmpty() throws Exception {
        application[0] = (DeskApplication) FxToolkit.setupApplication(DeskApplication.class);
    }

    /** The condition is looked at on the interface thread, where nothing changes under it. */
    static void await(String what, BooleanSupplier condition) throws Exception {
        long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE_SECONDS);
        while (!WaitForAsyncUtils.asyncFx(condition::getAsBoolean).get()) {
            if (System.nanoTime() > deadline) {
                throw new AssertionError("waited in vain for " + what + "; the window says " + said());
            }
            TimeUnit.MILLISECONDS.sleep(50);
        }
    }

    /** What the labels with an id say now, for whoever has to find out why a test failed. */
    private static String said() throws Exception {
        return WaitForAsyncUtils.asyncFx(() -> new Hands()
                .lookup((Node node) -> node instanceof Labeled && node.getId() != null && node.isVisible())
                .queryAllAs(Labeled.class).stream().map(label -> label.getId() + ": \"" + label.getText() + "\"")
                .collect(Collectors.joining(", "))).get();
    }

    boolean isThere(String id) {
        return robot.lookup("#" + id).tryQuery().isPresent();
    }

    <T extends Node> T find(String id, Class<T> type) throws Exception {
        var found = new AtomicReference<T>();
        await("#" + id, () -> {
            robot.lookup("#" + id).tryQuery().map(type::cast).ifPresent(found::set);
            return found.get() != null;
        });
        return found.get();
    }

    /** A node that has stayed in its place for a while, as it must to be dragged. */
    Node still(String id) throws Exception {
        Node node = find(id, Node.class);
        var last = new Bounds[]{null};
        var since = new long[]{System.nanoTime()};
        await("#" + id + " to come to rest", () -> {
            Bounds now = node.localToScreen(node.getBoundsInLocal());
            if (!node.isVisible() || now == null || !now.equals(last[0])) {
                last[0] = now;
                since[0] = System.nanoTime();
            }
            return System.nanoTime() - since[0] > REST_NANOS;
        });
        return node;
    }

    String text(String id) throws Exception {
        return find(id, Labeled.class).getText();
    }

    /** What the labels of a list say. */
    List<String> texts(String id) throws Exception {
        return find(id, Pane.class).getChildren().stream().filter(Labeled.class::isInstance).map(Labeled.class::cast)
                .map(Labeled::getText).toList();
    }

    /** Whether a label says so now. */
    boolean says(String id, String words) {
        return robot.lookup("#" + id).tryQueryAs(Labeled.class).filter(label -> label.getText().contains(words))
                .isPresent();
    }

    void go(String station) throws Exception {
        click("spine-" + station);
    }

    /** Clicks in the middle of what is to be seen. Where that is, is asked on the interface thread, which alone may reckon it. */
    void click(String id) throws Exception {
        robot.clickOn(place(id));
    }

    /** The middle of what is to be seen, on the screen. */
    Point2D place(String id) throws Exception {
        return middle(find(id, Node.class));
    }

    private static Point2D middle(Node node) throws Exception {
        return WaitForAsyncUtils.asyncFx(() -> {
            // what was made in this pulse has no place yet
            node.getScene().getRoot().applyCss();
            node.getScene().getRoot().layout();
            Bounds bounds = node.localToScreen(node.getBoundsInLocal());
            return new Point2D(bounds.getCenterX(), bounds.getCenterY());
        }).get();
    }

    /** Scrolls until the node stands in the middle of the pane in which it lies, or as near to it as the pane goes. */
    void reveal(String id) throws Exception {
        Node node = find(id, Node.class);
        WaitForAsyncUtils.asyncFx(() -> {
            for (Node one = node; one != null; one = one.getParent()) {
                if (one instanceof ScrollPane pane) {
                    Bounds content = pane.getContent().getBoundsInLocal();
                    double y = pane.getContent().sceneToLocal(node.localToScene(node.getBoundsInLocal())).getCenterY();
                    double seen = pane.getViewportBounds().getHeight();
                    pane.setVvalue(Math.clamp((y - seen / 2) / Math.max(1, content.getHeight() - seen), 0.0, 1.0));
                    return;
                }
            }
        }).get();
    }

    /** Presses a button that may be out of sight in a scrolled pane, as it is at that moment. */
    void press(String id) throws Exception {
        await("#" + id + " to be enabled",
                () -> robot.lookup("#" + id).tryQuery().filter(node -> !node.isDisabled()).isPresent());
        WaitForAsyncUtils.asyncFx(() -> robot.lookup("#" + id).queryAs(ButtonBase.class).fire()).get();
    }

    void type(TextField field, String text) throws Exception {
        robot.doubleClickOn(middle(field));
        robot.push(KeyCode.CONTROL, KeyCode.A);
        robot.write(text);
        robot.push(KeyCode.ENTER);
    }

    /**
     * Puts a text into a field and leaves it with the key Enter, as after pasting. The field is looked up and filled in one
     * step of the interface thread, since a station may put another in its place at any time.
     */
    void enter(String id, String text) throws Exception {
        await("#" + id, () -> isThere(id));
        WaitForAsyncUtils.asyncFx(() -> enter(robot.lookup("#" + id).queryAs(TextInputControl.class), text)).get();
    }

    /** Puts a text into a field and leaves it with the key Enter; interface thread only. */
    static void enter(TextInputControl field, String text) {
        field.requestFocus();
        field.setText(text);
        if (field instanceof TextField line && line.getOnAction() != null) {
            line.getOnAction().handle(new javafx.event.ActionEvent());
        }
    }

    /** A copy in {@code folder} of the demo study with runs, which stands beside this module. */
    static Path copyOfDemo(Path folder) throws IOException {
        Path shipped = Path.of("../demo/harbour-berths");
        Path copy = folder.resolve("demo");
        try (Stream<Path> files = Files.walk(shipped)) {
            for (Path file : files.toList()) {
                Path to = copy.resolve(shipped.relativize(file).toString());
                if (Files.isDirectory(file)) {
                    Files.createDirectories(to);
                } else {
                    Files.copy(file, to);
                }
            }
        }
        return copy;
    }

    /** Chooses from the list of the field with this id. */
    void choose(String id, String word) throws Exception {
        @SuppressWarnings("unchecked")
        ComboBox<String> box = find(id, ComboBox.class);
        WaitForAsyncUtils.asyncFx(() -> box.setValue(word)).get();
    }

    static String read(Path file) {
        try {
            return Files.readString(file);
        } catch (IOException cause) {
            return "";
        }
    }

}
