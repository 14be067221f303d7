package kadrem.desk.load;

import java.util.ArrayList;
import java.util.List;
import java.util.OptionalInt;
import java.util.function.Consumer;
import java.util.function.Function;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Crowd;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Visit;
import kadrem.desk.Session;
import kadrem.files.study.Edit;

/** Which of the crowds is looked at, with its visits; a button alone where there is one load. */
final class CrowdBar {
    private static final double NAME_WIDTH = 172;

    private final Session session;
    private final Consumer<List<Edit>> edit;
    private final Consumer<String> reject;
    private final Runnable chosen;
    private final FlowPane names = new FlowPane(4, 4);
    private final VBox visits = new VBox(3);
    private final VBox view = new VBox(6, names, visits);
    private int at = -1;

    /**
     * @param edit makes edits
     * @param reject told why there can be no other crowd
     * @param chosen told when another crowd is looked at
     */
    CrowdBar(Session session, Consumer<List<Edit>> edit, Consumer<String> reject, Runnable chosen) {
        this.session = session;
        this.edit = edit;
        this.reject = reject;
        this.chosen = chosen;
        names.setAlignment(Pos.CENTER_LEFT);
    }

    Node view() {
        return view;
    }

    /** Number of the crowd that is looked at; empty for all of them, or where there are none. */
    OptionalInt at() {
        return at < 0 ? OptionalInt.empty() : OptionalInt.of(at);
    }

    void show(MeasuredStudy study) {
        List<Crowd> crowds = study.load().crowds();
        boolean several = !crowds.getFirst().isEveryone();
        at = several && at < crowds.size() ? at : -1;
        var shown = new ArrayList<Node>();
        if (several) {
            shown.add(choice("all together", -1));
            for (int i = 0; i < crowds.size(); i++) {
                shown.add(choice(crowds.get(i).name(), i));
            }
        }
        Button add = button(several ? "+" : "Another crowd beside it", "add-crowd", () -> session.state().ifPresent(
                state -> CrowdEdits.add(state).ifPresentOrElse(edits -> {
                    at = several ? crowds.size() : 1;
                    edit.accept(edits);
                }, () -> reject.accept("A crowd makes visits of its own: add another visit in Workload first."))));
        add.setAccessibleText("add a crowd");
        add.setTooltip(new Tooltip("Users or arrivals with visits and a load of their own, at the same time"));
        shown.add(add);
        if (at >= 0) {
            int gone = at;
            Button remove = button("✕", "remove-crowd", () -> session.state().ifPresent(state -> {
                at = -1;
                edit.accept(CrowdEdits.remove(state, gone));
            }));
            remove.setAccessibleText("remove the crowd " + crowds.get(at).name());
            shown.add(remove);
        }
        names.getChildren().setAll(shown);
        visits.getChildren().clear();
        if (at >= 0) {
            int crowd = at;
            String name = crowds.get(at).name();
            visits.getChildren().add(row("name", field("crowd-name", name, "name of the crowd",
                    typed -> CrowdEdits.rename(study, crowd, typed))));
            makes(study, crowds);
            first(study, crowds.get(at));
            answers(study, name);
        }
        visits.setManaged(!visits.getChildren().isEmpty());
    }

    private void makes(MeasuredStudy study, List<Crowd> crowds) {
        Crowd own = crowds.get(at);
        int to = at;
        visits.getChildren().add(heading("makes"));
        for (Visit visit : study.workload().visits()) {
            boolean mine = own.makes(visit.name());
            String whose = crowds.stream().filter(crowd -> crowd.makes(visit.name())).map(Crowd::name).findFirst()
                    .orElse("nobody");
            var box = new CheckBox(visit.name() + (mine ? "" : "  (" + whose + ")"));
            box.setSelected(mine);
            // it is given away by taking it into another crowd
            box.setDisable(mine);
            box.setId("makes-" + visit.name().replace(' ', '-'));
            box.setOnAction(_ -> edit.accept(CrowdEdits.give(study, visit.name(), to)));
            visits.getChildren().add(box);
        }
    }

    private void first(MeasuredStudy study, Crowd own) {
        List<String> all = study.workload().first().stream().map(Call::name).toList();
        int crowd = at;
        if (!all.isEmpty()) {
            visits.getChildren().add(heading("each of its users first makes"));
        }
        for (String call : all) {
            var box = new CheckBox(call);
            box.setSelected(own.begins(call));
            box.setId("first-" + call.replace(' ', '-'));
            box.setOnAction(_ -> edit.accept(CrowdEdits.begin(all, crowd, all.stream()
                    .filter(one -> one.equals(call) ? box.isSelected() : own.begins(one)).toList())));
            visits.getChildren().add(box);
        }
    }

    /** Where each candidate answers the crowd. */
    private void answers(MeasuredStudy study, String crowd) {
        visits.getChildren().add(heading("is answered at"));
        for (int i = 0; i < study.candidates().size(); i++) {
            Candidate candidate = study.candidates().get(i);
            int number = i;
            String own = candidate.address().toString();
            String there = candidate.entrance(crowd).address().toString();
            TextField field = field("answers-" + candidate.id(), there.equals(own) ? "" : there,
                    "where " + candidate.name() + " answers " + crowd,
                    typed -> CrowdEdits.answer(study, number, crowd, typed));
            field.setPromptText(own);
            visits.getChildren().add(row(candidate.name(), field));
        }
    }

    private static HBox row(String name, TextField field) {
        Label label = heading(name);
        label.setMinWidth(NAME_WIDTH);
        label.setMaxWidth(NAME_WIDTH);
        HBox.setHgrow(field, Priority.ALWAYS);
        var row = new HBox(label, field);
        row.setAlignment(Pos.CENTER_LEFT);
        return row;
    }

    /** Edits the study when it is left with another text. */
    private TextField field(String id, String shown, String words, Function<String, List<Edit>> change) {
        var field = new TextField(shown);
        field.setId(id);
        field.setAccessibleText(words);
        field.getStyleClass().add("code-field");
        Runnable commit = () -> {
            if (!field.getText().strip().equals(field.getUserData())) {
                field.setUserData(field.getText().strip());
                edit.accept(change.apply(field.getText().strip()));
            }
        };
        field.setUserData(shown);
        field.setOnAction(_ -> commit.run());
        field.focusedProperty().addListener((_, _, focused) -> {
            if (!focused) {
                commit.run();
            }
        });
        return field;
    }

    private static Label heading(String words) {
        var label = new Label(words);
        label.getStyleClass().add("attribute");
        return label;
    }

    private ToggleButton choice(String name, int number) {
        var button = new ToggleButton(name);
        button.getStyleClass().add("small-button");
        button.setId(number < 0 ? "all-crowds" : "crowd-" + number);
        button.setSelected(number == at);
        button.setOnAction(_ -> {
            at = number;
            chosen.run();
        });
        return button;
    }

    private static Button button(String words, String id, Runnable act) {
        var button = new Button(words);
        button.getStyleClass().add("small-button");
        button.setId(id);
        button.setOnAction(_ -> act.run());
        return button;
    }
}
