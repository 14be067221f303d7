package kadrem.desk.rehearsal;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.stream.Collectors;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.Label;
import javafx.scene.control.MenuItem;
import javafx.scene.control.TextArea;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.control.skin.TextAreaSkin;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Timeline;
import kadrem.core.study.Call;
import kadrem.core.study.Written;
import kadrem.load.content.PointedValue;
import kadrem.load.content.Pretty;

/** One exchange: request as sent, head of the answer, its body pretty or raw, and where the time went. */
public final class ExchangeView {
    private static final double BAR_WIDTH = 380;
    private static final int MAX_CHARACTERS = 200_000;

    private final VBox view = new VBox(8);
    private final Label title = new Label("Choose a cell to see its exchange.");
    private final Label outcome = new Label();
    private final ToggleButton request = new ToggleButton("Request");
    private final ToggleButton head = new ToggleButton("Answer head");
    private final ToggleButton pretty = new ToggleButton("Body");
    private final ToggleButton raw = new ToggleButton("Body, raw");
    private final TextArea text = new TextArea();
    private final HBox bar = new HBox();
    private final Label times = new Label();
    private RehearsedCall shown = new RehearsedCall("", "", "", 0, List.of(), 0,
            kadrem.core.study.Bytes.of(new byte[0]),
            kadrem.core.study.Bytes.of(new byte[0]), "", Timeline.NONE, java.util.Optional.empty(), "");

    public ExchangeView() {
        var group = new ToggleGroup();
        for (ToggleButton button : List.of(request, head, pretty, raw)) {
            button.setToggleGroup(group);
            button.setOnAction(_ -> {
                button.setSelected(true);
                fill();
            });
        }
        pretty.setSelected(true);
        raw.setId("body-raw");
        title.getStyleClass().add("section-heading");
        title.setId("exchange-title");
        outcome.setWrapText(true);
        outcome.setId("exchange-outcome");
        text.setEditable(false);
        text.setWrapText(false);
        text.getStyleClass().add("exchange-text");
        text.setId("exchange-text");
        text.setAccessibleText("exchange");
        VBox.setVgrow(text, Priority.ALWAYS);
        bar.setAlignment(Pos.CENTER_LEFT);
        times.setWrapText(true);
        times.getStyleClass().add("muted");
        view.getChildren().addAll(title, outcome, new HBox(4, request, head, pretty, raw), text, bar, times);
        enable(false);
    }

    /**
     * Has a menu come up where somebody points at a value of a JSON body, or at a header.
     *
     * @param ofValue what can be done with a value of the body of the call's answer
     * @param ofHeader what can be done with a header of the answer
     */
    public void offer(BiFunction<PointedValue, RehearsedCall, List<MenuItem>> ofValue,
            Function<Call.Header, List<MenuItem>> ofHeader) {
        var menu = new ContextMenu();
        text.setOnContextMenuRequested(event -> {
            int place = event.isKeyboardTrigger() || !(text.getSkin() instanceof TextAreaSkin skin)
                    ? text.getCaretPosition()
                    : skin.getIndex(event.getX(), event.getY()).getCharIndex();
            menu.getItems().setAll(pointed(place, ofValue, ofHeader));
            if (!menu.getItems().isEmpty()) {
                menu.show(text, event.getScreenX(), event.getScreenY());
            }
            event.consume();
        });
    }

    private List<MenuItem> pointed(int place, BiFunction<PointedValue, RehearsedCall, List<MenuItem>> ofValue,
            Function<Call.Header, List<MenuItem>> ofHeader) {
        if (head.isSelected()) {
            // the first line is the status
            int line = (int) text.getText().substring(0, Math.min(place, text.getLength())).lines().count() - 2;
            return line >= 0 && line < shown.headers().size() ? ofHeader.apply(shown.headers().get(line)) : List.of();
        }
        return request.isSelected()
                ? List.of()
                : PointedValue.at(text.getText(), place).map(value -> ofValue.apply(value, shown)).orElse(List.of());
    }

    public Node view() {
        return view;
    }

    private void enable(boolean on) {
        List.of(request, head, pretty, raw).forEach(button -> button.setDisable(!on));
    }

    public void show(String candidate, RehearsedCall call) {
        shown = call;
        enable(true);
        title.setText(call.call() + ", " + candidate);
        outcome.getStyleClass().setAll("label", call.isGood() ? "good" : "problem");
        outcome.setText(call.isGood()
                ? "good: " + (call.answered().isEmpty() ? "status " : "") + call.statusWord() + ", "
                        + Written.bytes(call.decoded().size())
                        + " of body, hash " + call.sha256().substring(0, Math.min(16, call.sha256().length()))
                : call.failure().orElseThrow().id() + (call.detail().isEmpty() ? "" : ": " + call.detail()));
        fill();
        timeline(call.timeline());
    }

    private void fill() {
        String content = request.isSelected()
                ? shown.request()
                : head.isSelected()
                        ? (shown.answered().isEmpty() ? "status " : "") + shown.statusWord() + "\n"
                                + shown.headers().stream()
                                        .map(header -> header.name() + ": " + header.value())
                                        .collect(Collectors.joining("\n"))
                        : raw.isSelected()
                                ? new String(shown.decoded().toArray(), StandardCharsets.UTF_8)
                                : Pretty.print(shown.decoded().toArray(), shown.header("Content-Type"));
        text.setText(content.length() > MAX_CHARACTERS
                ? content.substring(0, MAX_CHARACTERS) + "\n… and " + (content.length() - MAX_CHARACTERS)
                        + " more characters"
                : content);
    }

    /** A bar of the steps, each as long as it took. */
    private void timeline(Timeline timeline) {
        bar.getChildren().clear();
        long total = Math.max(1, timeline.total());
        String[] names = {"resolve", "connect", "tls", "send", "wait", "receive"};
        long[] nanos = {timeline.resolve(), timeline.connect(), timeline.tls(), timeline.sending(), timeline.waiting(),
                timeline.receiving()};
        var words = new StringBuilder();
        for (int i = 0; i < names.length; i++) {
            var piece = new Region();
            piece.setPrefSize(Math.max(nanos[i] > 0 ? 2 : 0, BAR_WIDTH * nanos[i] / total), 14);
            piece.setMinWidth(piece.getPrefWidth());
            piece.getStyleClass().add("timeline-" + names[i]);
            Tooltip.install(piece, new Tooltip(names[i] + " " + Written.duration(nanos[i])));
            bar.getChildren().add(piece);
            words.append(i == 0 ? "" : " · ").append(names[i]).append(' ').append(Written.duration(nanos[i]));
        }
        times.setText(words.toString());
    }
}
