package kadrem.desk.workload;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.MenuItem;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Agreement;
import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.core.study.ValueList;
import kadrem.core.study.Written;
import kadrem.desk.Session;
import kadrem.desk.candidates.CandidatesStation;
import kadrem.desk.candidates.ConsentQuestion;
import kadrem.desk.look.Background;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.rehearsal.ExchangeView;
import kadrem.files.study.Edit;
import kadrem.load.content.PointedValue;
import kadrem.work.NotDone;
import kadrem.work.TryCall;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Makes the call that is being written once, and shows the exchange where it is written. Interface thread only. */
final class TryPane {
    private static final Logger LOG = LoggerFactory.getLogger(TryPane.class);
    private static final String ALL = "all candidates";
    private static final double HEIGHT = 370;
    private static final int MAX_WORDS = 40;

    private final Session session;
    private final CandidatesStation launched;
    private final Button begin = new Button("Try");
    private final ComboBox<String> who = new ComboBox<>();
    private final Label words = new Label();
    private final HBox answers = new HBox(4);
    private final ExchangeView exchange = new ExchangeView();
    private final VBox result = new VBox(6, answers, exchange.view());
    private final HBox hand = new HBox(8, begin, who, words);
    private List<Candidate> candidates = List.of();
    private Strands.@Nullable Place place;
    private Background.@Nullable Running worker;

    /**
     * @param candidates tells which are up already
     * @param editor writes down what is pointed at in an answer
     */
    TryPane(Session session, CandidatesStation candidates, CallEditor editor) {
        this.session = session;
        launched = candidates;
        begin.setId("try-call");
        begin.setTooltip(new Tooltip("Makes this call once, after those before it in its visit (Ctrl Enter)"));
        begin.setOnAction(_ -> tryIt());
        who.setId("try-who");
        who.setAccessibleText("candidates that are asked");
        words.setId("try-words");
        words.setWrapText(true);
        words.getStyleClass().add("muted");
        hand.setAlignment(Pos.CENTER_LEFT);
        answers.setId("try-answers");
        result.setMinHeight(HEIGHT);
        result.setPrefHeight(HEIGHT);
        exchange.offer(
                (value, call) -> ofValue(editor, value, call),
                header -> List.of(
                        item("try-capture", "Capture " + header.name(),
                                () -> editor.change(call -> Pointing.capturing(call, header))),
                        item("try-expect", "Expect " + header.name() + " to hold " + shortened(header.value()),
                                () -> editor.change(call -> Pointing.expecting(call, header))),
                        item("try-differ", "Let " + header.name() + " differ",
                                () -> differ("ignoreHeaders", header.name()))));
        result.managedProperty().bind(result.visibleProperty());
        result.setVisible(false);
    }

    private List<MenuItem> ofValue(CallEditor editor, PointedValue value, RehearsedCall answered) {
        var items = new ArrayList<>(List.of(
                item("try-capture", "Capture " + value.path(),
                        () -> editor.change(call -> Pointing.capturing(call, value))),
                item("try-expect",
                        "Expect " + value.path()
                                + value.text().map(text -> " to be " + shortened(text)).orElse(" to be there"),
                        () -> editor.change(call -> Pointing.expecting(call, value))),
                item("try-differ", "Let " + value.path() + " differ", () -> differ("ignoreJson", value.path()))));
        value.column().ifPresent(column -> {
            List<String> values = Pointing.column(column, answered.decoded().toArray());
            if (!values.isEmpty()) {
                items.add(item("try-list", "Make a value list of " + column + ", " + values.size()
                        + (values.size() == 1 ? " value" : " values"), () -> list(column, values)));
            }
        });
        return items;
    }

    private void list(String column, List<String> values) {
        session.state().ifPresent(state -> {
            List<ValueList> known = state.measured().workload().values();
            Map<String, Object> list = Pointing.list(column, values, known.stream().map(ValueList::name).toList());
            session.edit(List.of(new Edit.Insert("workload.values", known.size(), list)), words::setText,
                    () -> words.setText("Write {{" + list.get("name") + "}} where one of them is to stand."));
        });
    }

    private static MenuItem item(String id, String words, Runnable deed) {
        var item = new MenuItem(words);
        item.setMnemonicParsing(false);
        item.setId(id);
        item.setOnAction(_ -> deed.run());
        return item;
    }

    private static String shortened(String text) {
        return text.length() > MAX_WORDS ? text.substring(0, MAX_WORDS) + "…" : text;
    }

    /** What was pointed at no longer counts when answers are compared. */
    private void differ(String list, String what) {
        session.state().ifPresent(state -> {
            Agreement agreement = state.measured().agreement();
            List<String> known = list.equals("ignoreJson") ? agreement.ignoredJson() : agreement.ignoredHeaders();
            session.edit(List.of(new Edit.Insert("rehearsal." + list, known.size(), what)), words::setText);
        });
    }

    /** What is pressed. */
    Node hand() {
        return hand;
    }

    /** What came of it. */
    Node result() {
        return result;
    }

    /** @param chosen the call that is being written; null where none is */
    void show(Study study, Strands.@Nullable Place chosen) {
        if (!candidates.equals(study.candidates())) {
            candidates = study.candidates();
            List<String> choices = new ArrayList<>(List.of(ALL));
            candidates.forEach(one -> choices.add(one.id()));
            who.getItems().setAll(choices);
            who.setValue(ALL);
        }
        if (chosen == null || !chosen.equals(place)) {
            result.setVisible(false);
            words.setText("");
        }
        place = chosen;
        hand.setVisible(chosen != null);
    }

    /** Tries the call as it is written now: what is being typed is saved before. */
    void tryIt() {
        if (worker != null || place == null) {
            return;
        }
        begin.requestFocus();
        session.edit(List.of(), words::setText, () -> session.state().ifPresent(this::ask));
    }

    private void ask(Session.State state) {
        Strands.Place asked = place;
        if (worker != null || asked == null || asked.find(state.measured().workload()).isEmpty()) {
            return;
        }
        List<String> ids = ALL.equals(who.getValue())
                ? candidates.stream().map(Candidate::id).toList()
                : List.of(who.getValue());
        List<String> up = launched.running(state.study());
        words.setText("Asking …");
        worker = Background.AT_ONCE.run(
                () -> TryCall.run(state.file(), asked.visit(), asked.call(), ids, one -> up.contains(one.id()),
                        (candidate, step) -> Platform.runLater(() -> tell(candidate.name() + ": " + step.words()))),
                made -> answered(state.study(), made), cause -> {
                    worker = null;
                    words.setText(why(cause));
                });
    }

    private void tell(String step) {
        if (worker != null) {
            words.setText(step + " …");
        }
    }

    private static String why(Exception cause) {
        return switch (cause) {
            case NotDone not -> "Nobody was asked: " + ConsentQuestion.words(not.objection()) + ".";
            case InterruptedException _ -> "Stopped.";
            default -> {
                LOG.error("the call could not be tried", cause);
                yield "It could not be tried: " + cause.getMessage();
            }
        };
    }

    private void answered(Study study, Rehearsal made) {
        worker = null;
        answers.getChildren().clear();
        var group = new ToggleGroup();
        var problems = new ArrayList<String>();
        for (Rehearsal.OfCandidate one : made.candidates()) {
            String name = study.candidate(one.candidate()).map(Candidate::name).orElse(one.candidate());
            if (!one.problem().isEmpty()) {
                problems.add(name + ": " + one.problem());
            }
            Optional<RehearsedCall> last = one.calls().isEmpty()
                    ? Optional.empty()
                    : Optional.of(one.calls().getLast());
            last.ifPresent(call -> {
                int index = study.indexOf(one.candidate());
                var button = new ToggleButton(call.statusWord() + "  " + Written.duration(call.timeline().total())
                        + (call.isGood() ? "" : "  ✕"), new CandidateMark(index).marker(5));
                button.setId("tried-" + one.candidate());
                button.setAccessibleText(name + " answered " + call.statusWord());
                button.setToggleGroup(group);
                button.setOnAction(_ -> {
                    button.setSelected(true);
                    exchange.show(name, call);
                });
                answers.getChildren().add(button);
                if (group.getSelectedToggle() == null) {
                    button.fire();
                }
            });
        }
        words.setText(String.join("\n", problems));
        result.setVisible(!answers.getChildren().isEmpty());
    }

    void close() {
        Background.Running running = worker;
        if (running != null) {
            running.stop();
        }
    }
}
