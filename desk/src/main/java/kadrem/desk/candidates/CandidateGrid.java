package kadrem.desk.candidates;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.IntUnaryOperator;

import javafx.geometry.HPos;
import javafx.geometry.Pos;
import javafx.geometry.VPos;
import javafx.scene.Node;
import javafx.scene.Scene;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.Candidate;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Study;
import kadrem.core.study.grammar.Field;
import kadrem.desk.Session;
import kadrem.desk.form.FormPane;
import kadrem.desk.look.CandidateMark;
import kadrem.files.study.Edit;
import kadrem.work.Launched;

/**
 * A column for each candidate, rows aligned, differing cells marked; one file, since its rows share one grid.
 */
final class CandidateGrid {
    private static final double MAX_CELL_HEIGHT = 96;

    private final Session session;
    private final Launched launched;
    private final CandidateEdits edits;
    private final FormPane form;
    private final WatchPane watchPane;
    private final GridPane grid = new GridPane();
    private final Map<String, Part> parts = new HashMap<>();
    private final List<CandidateCell> cells = new ArrayList<>();
    private final List<CandidateHands> hands = new ArrayList<>();
    private final AttributeGroups groups;

    CandidateGrid(Session session, Launched launched, CandidateEdits edits, FormPane form, WatchPane watchPane) {
        this.session = session;
        this.launched = launched;
        this.edits = edits;
        this.form = form;
        this.watchPane = watchPane;
        groups = new AttributeGroups(() -> session.state().ifPresent(this::show));
        grid.getStyleClass().add("candidate-grid");
    }

    Node view() {
        return grid;
    }

    /** Cells whose words have changed say the new ones; a part of the grid is made anew only where it has other rows. */
    void show(Session.State state) {
        MeasuredStudy study = state.measured();
        List<Candidate> candidates = study.candidates();
        Map<String, List<String>> found = found(state);
        List<Launched.Status> statuses = candidates.stream().map(one -> launched.status(one.id())).toList();
        columns(candidates.size());
        int row = 0;
        row = part("headings", row, List.of(candidates, study.question().baseline()), from -> headings(study, from));
        row = part("actions", row, candidates.stream().map(Candidate::id).toList(), from -> actions(study, from));
        for (int i = 0; i < hands.size(); i++) {
            hands.get(i).show(candidates.get(i));
        }
        row = part("told", row, shape(state), from -> told(state, from));
        cells.forEach(cell -> cell.show(study));
        groups.show(candidates);
        row = part("watched", row, List.of(candidates, statuses, watchPane.tries()), from -> watched(state, from));
        row = part("found", row, found, from -> section(from, "As found", found));
        part("alike", row, List.of(candidates, study.intended(), found),
                from -> LikeForLike.add(grid, from, study, found, edits));
    }

    /** Puts the keyboard on a candidate's address. */
    void reveal(String candidate) {
        Optional.ofNullable(grid.lookup("#address-" + candidate)).ifPresent(Node::requestFocus);
    }

    private void columns(int candidates) {
        if (grid.getColumnConstraints().size() == candidates + 1) {
            return;
        }
        grid.getColumnConstraints().setAll(new ColumnConstraints(130));
        for (int i = 0; i < candidates; i++) {
            var column = new ColumnConstraints(200, 280, Double.MAX_VALUE);
            column.setHgrow(Priority.ALWAYS);
            grid.getColumnConstraints().add(column);
        }
    }

    /** A part of the grid: what it was made of, from which row, and where it ends. */
    private record Part(Object of, int from, int to, List<Node> nodes) {
    }

    /** Makes a part of the grid, unless it stands there already and was made of the same. */
    private int part(String name, int from, Object of, IntUnaryOperator make) {
        Part before = parts.get(name);
        if (before != null && before.from() == from && before.of().equals(of)) {
            return before.to();
        }
        Optional<Writing> writing = writing();
        if (before != null) {
            grid.getChildren().removeAll(before.nodes());
        }
        int there = grid.getChildren().size();
        int to = make.applyAsInt(from);
        parts.put(name, new Part(of, from, to,
                List.copyOf(grid.getChildren().subList(there, grid.getChildren().size()))));
        writing.ifPresent(this::goOnWriting);
        return to;
    }

    /** Which rows and which kinds of cells the study's own attributes take. */
    private List<Object> shape(Session.State state) {
        Map<String, Field> known = state.file().grammar().group("candidates").all();
        return List.of(groups.open(state.study().candidates()), known,
                state.study().candidates().stream().map(Candidate::id).toList(),
                Attribute.ALL.stream().map(attribute -> state.study().candidates().stream().map(attribute.field())
                        .toList()).toList());
    }

    /** The field that is being written in, which a new grid must not take away. */
    private record Writing(String id, String text, int caret) {
    }

    private Optional<Writing> writing() {
        return Optional.ofNullable(grid.getScene()).map(Scene::getFocusOwner)
                .filter(owner -> isInGrid(owner)).filter(TextField.class::isInstance)
                .map(TextField.class::cast)
                .map(field -> new Writing(field.getId(), field.getText(), field.getCaretPosition()));
    }

    private boolean isInGrid(Node node) {
        for (Node one = node; one != null; one = one.getParent()) {
            if (one == grid) {
                return true;
            }
        }
        return false;
    }

    private void goOnWriting(Writing writing) {
        Optional.ofNullable(grid.lookup("#" + writing.id())).filter(TextField.class::isInstance)
                .map(TextField.class::cast).ifPresent(field -> {
                    field.setText(writing.text());
                    field.requestFocus();
                    field.positionCaret(writing.caret());
                });
    }

    private int headings(Study study, int row) {
        for (Candidate candidate : study.candidates()) {
            int index = study.indexOf(candidate.id());
            var name = new CandidateMark(index).label(candidate.name());
            boolean baseline = candidate.id().equals(study.question().baseline());
            var role = new Label(baseline ? "baseline" : "");
            role.getStyleClass().add("muted");
            var second = new HBox(8, role, order(study, candidate));
            second.setAlignment(Pos.CENTER_LEFT);
            grid.add(new VBox(2, name, second), index + 1, row);
        }
        return row + 1;
    }

    private Map<String, List<String>> found(Session.State state) {
        var prints = new ArrayList<Map<String, String>>();
        for (Candidate candidate : state.study().candidates()) {
            prints.add(launched.status(candidate.id()).fingerprint().or(() -> lastFingerprint(state, candidate.id()))
                    .orElse(Map.of()));
        }
        Set<String> names = new LinkedHashSet<>();
        prints.forEach(print -> names.addAll(print.keySet()));
        names.removeAll(Set.of("address", "command"));
        var rows = new LinkedHashMap<String, List<String>>();
        names.forEach(name -> rows.put(name, prints.stream().map(print -> print.getOrDefault(name, "")).toList()));
        if (rows.isEmpty()) {
            rows.put("fingerprint",
                    state.study().candidates().stream().map(_ -> "not known before the first launch").toList());
        }
        return rows;
    }

    private static Optional<Map<String, String>> lastFingerprint(Session.State state, String id) {
        return state.runs().stream().filter(run -> run.candidate().equals(id) && !run.fingerprint().isEmpty())
                .max(Comparator.comparing(RunRecord::started)).map(RunRecord::fingerprint);
    }

    /** What the study says, as fields that are saved when they are left. */
    private int told(Session.State state, int from) {
        Study study = state.study();
        cells.clear();
        int row = from;
        var heading = new Label("As the study says");
        heading.getStyleClass().add("section-heading");
        grid.add(heading, 0, row++, GridPane.REMAINING, 1);
        Map<String, Field> known = state.file().grammar().group("candidates").all();
        Attribute.Group group = Attribute.Group.ESSENTIALS;
        Set<Attribute.Group> open = groups.open(study.candidates());
        for (Attribute attribute : Attribute.ALL) {
            if (attribute.group() != group) {
                group = attribute.group();
                grid.add(groups.head(group), 0, row++, GridPane.REMAINING, 1);
            }
            if (!open.contains(group)) {
                continue;
            }
            if (study.candidates().stream().map(attribute.field()).noneMatch(known::containsKey)) {
                // nothing of these candidates: settings of a protocol that has none
                continue;
            }
            var name = new Label(attribute.name());
            name.getStyleClass().add("attribute");
            grid.add(name, 0, row);
            for (int i = 0; i < study.candidates().size(); i++) {
                var cell = new CandidateCell(session, edits, form, study.candidates().get(i), attribute,
                        Optional.ofNullable(known.get(attribute.field().apply(study.candidates().get(i)))));
                cells.add(cell);
                grid.add(cell.view(), i + 1, row);
            }
            row++;
        }
        return row;
    }

    private int watched(Session.State state, int from) {
        Study study = state.study();
        var heading = new Label("Watched while it runs");
        heading.getStyleClass().add("section-heading");
        grid.add(heading, 0, from, GridPane.REMAINING, 1);
        var words = new Label("beside this host and the launched process");
        words.setWrapText(true);
        words.getStyleClass().add("attribute");
        GridPane.setValignment(words, VPos.TOP);
        grid.add(words, 0, from + 1);
        for (int i = 0; i < study.candidates().size(); i++) {
            Candidate candidate = study.candidates().get(i);
            Node lines = watchPane.of(state, candidate, launched.pid(candidate.id()));
            GridPane.setValignment(lines, VPos.TOP);
            grid.add(lines, i + 1, from + 1);
        }
        return from + 2;
    }

    private Node order(Study study, Candidate candidate) {
        int index = study.indexOf(candidate.id());
        int last = study.candidates().size() - 1;
        Button left = small("←", "move " + candidate.name() + " to the left", index == 0,
                () -> edits.edit(List.of(new Edit.Move("candidates", index, index - 1))));
        Button right = small("→", "move " + candidate.name() + " to the right", index == last,
                () -> edits.edit(List.of(new Edit.Move("candidates", index, index + 1))));
        Button copy = small("Duplicate", "duplicate " + candidate.name(), false,
                () -> edits.duplicate(study, candidate));
        copy.setId("duplicate-" + candidate.id());
        Button gone = small("Remove", "remove " + candidate.name(), last == 0, () -> edits.remove(study, candidate));
        gone.setId("remove-" + candidate.id());
        return new HBox(4, left, right, copy, gone);
    }

    private static Button small(String text, String what, boolean off, Runnable action) {
        var button = new Button(text);
        button.getStyleClass().add("small-button");
        button.setAccessibleText(what);
        button.setTooltip(new Tooltip(what));
        button.setDisable(off);
        button.setOnAction(_ -> action.run());
        return button;
    }

    private int section(int from, String title, Map<String, List<String>> rows) {
        int row = from;
        var heading = new Label(title);
        heading.getStyleClass().add("section-heading");
        grid.add(heading, 0, row++, GridPane.REMAINING, 1);
        for (Map.Entry<String, List<String>> entry : rows.entrySet()) {
            var name = new Label(entry.getKey());
            name.getStyleClass().add("attribute");
            GridPane.setValignment(name, VPos.TOP);
            grid.add(name, 0, row);
            boolean differs = entry.getValue().stream().distinct().count() > 1;
            for (int i = 0; i < entry.getValue().size(); i++) {
                var cell = new Label(entry.getValue().get(i).isEmpty() ? "–" : entry.getValue().get(i));
                cell.setWrapText(true);
                cell.setMaxWidth(Double.MAX_VALUE);
                // a long command is cut here and whole in the tooltip
                cell.setMaxHeight(MAX_CELL_HEIGHT);
                cell.getStyleClass().addAll("fact-cell", differs ? "differs" : "same");
                cell.setTooltip(new Tooltip(
                        (differs ? "differs between the candidates: " : "the same for all: ")
                                + entry.getValue().get(i)));
                grid.add(cell, i + 1, row);
            }
            row++;
        }
        return row;
    }

    private int actions(Study study, int row) {
        var name = new Label("now");
        name.getStyleClass().add("attribute");
        GridPane.setValignment(name, VPos.TOP);
        grid.add(name, 0, row);
        hands.clear();
        for (Candidate candidate : study.candidates()) {
            var cell = new CandidateHands(candidate.id(), session, launched);
            hands.add(cell);
            GridPane.setHalignment(cell.view(), HPos.LEFT);
            grid.add(cell.view(), study.indexOf(candidate.id()) + 1, row);
        }
        return row + 1;
    }
}
