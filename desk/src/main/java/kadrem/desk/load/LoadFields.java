package kadrem.desk.load;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.GridPane;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Pacing;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Written;
import kadrem.desk.Session;
import kadrem.core.study.grammar.Durations;
import kadrem.files.study.Edit;
import kadrem.files.study.ThinkTimes;

/** The figures of load and plan that are typed one by one. Only those are shown that mean something for the present load. */
final class LoadFields {
    private final Session session;
    private final Consumer<String> rejected;
    private final GridPane view = new GridPane();
    private final Map<Figure, Entry> entries = new LinkedHashMap<>();

    /** When a figure is shown. */
    private enum When {
        ALWAYS, OPEN, CLOSED, FLAT_OPEN, FLAT_CLOSED, FLAT, LADDER, CEILING, PROFILE
    }

    /**
     * One figure.
     *
     * @param path of its field in the study file
     * @param hint written into it while it is empty
     */
    private record Figure(String path, String name, String hint, When when, Function<MeasuredStudy, String> text) {
    }

    private record Entry(Label name, TextField field) {
    }

    private static final List<Figure> ALL = List.of(
            new Figure("load.arrivalsPerSecond", "arrivals a second", "", When.FLAT_OPEN,
                    study -> LoadForm.plain(study.load().shape().peak())),
            new Figure("load.users", "users", "", When.FLAT_CLOSED,
                    study -> LoadForm.plain(study.load().shape().peak())),
            new Figure("load.ladder.from", "first level", "", When.LADDER, study -> search(study,
                    LevelSearch.Ladder.class, one -> LoadForm.plain(one.from()))),
            new Figure("load.ladder.factor", "rises by", "x2 or +50", When.LADDER, study -> search(study,
                    LevelSearch.Ladder.class, LoadForm::rise)),
            new Figure("load.ladder.gain", "goes on above a growth of", "5%", When.LADDER, study -> search(study,
                    LevelSearch.Ladder.class, one -> Written.significant(one.leastGain() * 100) + "%")),
            new Figure("load.ladder.most", "levels at most", "12", When.LADDER, study -> search(study,
                    LevelSearch.Ladder.class, one -> Integer.toString(one.most()))),
            new Figure("load.ceiling.from", "from", "", When.CEILING, study -> search(study,
                    LevelSearch.Ceiling.class, one -> LoadForm.plain(one.from()))),
            new Figure("load.ceiling.to", "to", "", When.CEILING, study -> search(study,
                    LevelSearch.Ceiling.class, one -> LoadForm.plain(one.to()))),
            new Figure("load.ceiling.precision", "precision", "5%", When.CEILING, study -> search(study,
                    LevelSearch.Ceiling.class, one -> Written.significant(one.precision() * 100) + "%")),
            new Figure("load.ceiling.most", "levels at most", "12", When.CEILING, study -> search(study,
                    LevelSearch.Ceiling.class, one -> Integer.toString(one.most()))),
            new Figure("load.measured", "measured part", "", When.FLAT,
                    study -> Durations.write(study.load().measured())),
            new Figure("load.spacing", "spacing", "", When.OPEN,
                    study -> study.load() instanceof LoadProfile.Open open ? open.spacing().id() : ""),
            new Figure("load.connections", "connections", "", When.OPEN,
                    study -> Integer.toString(study.load().connections())),
            new Figure("load.connectionLimit", "connections at most", "", When.OPEN,
                    study -> study.load() instanceof LoadProfile.Open open
                            ? Integer.toString(open.connectionLimit())
                            : ""),
            new Figure("load.thinkTime", "think time", "", When.CLOSED,
                    study -> study.load() instanceof LoadProfile.Closed closed
                            ? ThinkTimes.write(closed.thinkTime())
                            : ""),
            new Figure("load.pace", "pace, a visit every", "as answered", When.CLOSED,
                    study -> study.load() instanceof LoadProfile.Closed closed
                            ? closed.pace().map(Durations::write).orElse("")
                            : ""),
            new Figure("load.warmUp", "warm-up", "", When.ALWAYS, study -> Durations.write(study.load().warmUp())),
            new Figure("load.warmUpLevel", "at a level of", "as it begins", When.PROFILE,
                    study -> study.load().course().warmUpLevel().isPresent()
                            ? LoadForm.plain(study.load().course().warmUpLevel().getAsDouble())
                            : ""),
            new Figure("load.windDown", "wind-down", "none", When.PROFILE,
                    study -> study.load().course().windDown().isZero()
                            ? ""
                            : Durations.write(study.load().course().windDown())),
            new Figure("load.visits", "visits instead of time", "by time", When.FLAT,
                    study -> study.load().course().visits().isPresent()
                            ? Long.toString(study.load().course().visits().getAsLong())
                            : ""),
            new Figure("load.timeout", "time limit of a call", "", When.ALWAYS,
                    study -> Durations.write(study.load().timeout())),
            new Figure("plan.rounds", "rounds", "", When.ALWAYS, study -> Integer.toString(study.plan().rounds())),
            new Figure("plan.pause", "pause between runs", "", When.ALWAYS,
                    study -> Durations.write(study.plan().pause())),
            new Figure("plan.pacing", "generator waits", "by host", When.ALWAYS,
                    study -> study.plan().pacing().map(Pacing::id).orElse("")),
            new Figure("plan.seed", "seed", "", When.ALWAYS, study -> Long.toString(study.plan().seed())));

    LoadFields(Session session, Consumer<String> rejected) {
        this.session = session;
        this.rejected = rejected;
        view.getStyleClass().add("figures-grid");
        view.getColumnConstraints().addAll(new ColumnConstraints(172), new ColumnConstraints(130));
        ALL.forEach(figure -> entries.put(figure, entry(figure)));
    }

    Node view() {
        return view;
    }

    private static <T extends LevelSearch> String search(MeasuredStudy study, Class<T> kind, Function<T, String> text) {
        return study.load().course().search().filter(kind::isInstance).map(kind::cast).map(text).orElse("");
    }

    private Entry entry(Figure figure) {
        var label = new Label(figure.name());
        label.getStyleClass().add("attribute");
        var field = new TextField();
        field.getStyleClass().add("figure-field");
        field.setPromptText(figure.hint());
        field.setId(figure.path().replace('.', '-'));
        field.setAccessibleText(figure.name());
        label.setLabelFor(field);
        field.setOnAction(_ -> commit(figure, field));
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                commit(figure, field);
            }
        });
        return new Entry(label, field);
    }

    private void commit(Figure figure, TextField field) {
        String text = field.getText().strip();
        session.state().filter(state -> !figure.text().apply(state.measured()).equals(text)).ifPresent(_ -> {
            rejected.accept("");
            Consumer<String> told = why -> rejected
                    .accept(figure.name() + " " + why + " The study keeps its last good figure.");
            if (figure.path().equals("load.ladder.factor")) {
                session.edit(List.of(LoadForm.rise(text)), told);
            } else if (text.isEmpty() && !figure.hint().isEmpty()) {
                int dot = figure.path().lastIndexOf('.');
                session.edit(List.of(new Edit.Put(figure.path().substring(0, dot),
                        Map.of(figure.path().substring(dot + 1), Optional.empty()))), told);
            } else {
                session.edit(Map.of(figure.path(), text), told);
            }
        });
    }

    private static boolean isShown(LoadProfile load, When when) {
        boolean open = load instanceof LoadProfile.Open;
        boolean flat = load.shape().isFlat();
        Optional<LevelSearch> search = load.course().search();
        return switch (when) {
            case ALWAYS -> true;
            case OPEN -> open;
            case CLOSED -> !open;
            case FLAT_OPEN -> open && flat && search.isEmpty();
            case FLAT_CLOSED -> !open && flat && search.isEmpty();
            case FLAT -> flat;
            case LADDER -> search.filter(LevelSearch.Ladder.class::isInstance).isPresent();
            case CEILING -> search.filter(LevelSearch.Ceiling.class::isInstance).isPresent();
            case PROFILE -> search.isEmpty();
        };
    }

    /** @param keepTyped whether the field that was just rejected keeps what was typed */
    void show(MeasuredStudy study, boolean keepTyped) {
        view.getChildren().clear();
        int row = 0;
        for (Map.Entry<Figure, Entry> one : entries.entrySet()) {
            Entry entry = one.getValue();
            if (isShown(study.load(), one.getKey().when())) {
                view.addRow(row++, entry.name(), entry.field());
                if (!entry.field().isFocused() || !keepTyped) {
                    entry.field().setText(one.getKey().text().apply(study));
                }
            }
        }
    }

    /** Writes other figures into the fields while a handle is dragged. */
    void preview(MeasuredStudy study) {
        entries.forEach((figure, entry) -> entry.field().setText(figure.text().apply(study)));
    }
}
