package kadrem.desk.load;

import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.RadioButton;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Crowd;
import kadrem.core.study.Crowds;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.StopRule;
import kadrem.core.study.MeasuredStudy;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.UndoButtons;
import kadrem.desk.look.Background;
import kadrem.desk.look.Look;
import kadrem.work.Measurement;
import kadrem.desk.look.RowsEditor;
import kadrem.files.study.Edit;

/**
 * The load profile as a curve to drag and as figures to type, both in step, and what it is going to send; one file, since curve and
 * figures are kept in step.
 */
public final class LoadStation implements Station {
    private static final List<String> SEARCHES = List.of("one profile", "ladder", "ceiling search");
    private static final double LEFT_WIDTH = 378;

    private final Session session;
    private final Look look;
    private final VBox view = new VBox(10);
    private final RadioButton open = new RadioButton("arrivals come by themselves (open model)");
    private final RadioButton closed = new RadioButton("users wait for answers (closed model)");
    private final Label explanation = new Label();
    private final HBox searchRow = new HBox(8);
    private final ComboBox<String> search = new ComboBox<>(FXCollections.observableArrayList(SEARCHES));
    private final LoadFields fields;
    private final LoadFields crowdFields;
    private final CrowdBar crowds;
    private final VBox levels = new VBox(9);
    private final CheckBox together = new CheckBox("all candidates at once, each on a host of its own");
    private final RowsEditor segments;
    private final RowsEditor stopRules;
    private final ProfilePane profile = new ProfilePane(this::preview, this::commit);
    private final LoadFacts facts = new LoadFacts();
    private final Label rejected = new Label();
    private final Button check = new Button("Check this machine");
    private final Label checking = new Label();
    private boolean filling;

    public LoadStation(Session session, Look look) {
        this.session = session;
        this.look = look;
        fields = LoadFields.ofLoad(session, this::reject);
        crowdFields = LoadFields.ofCrowd(session, this::reject);
        crowds = new CrowdBar(session, this::edit, this::reject, () -> session.state().ifPresent(this::fill));
        segments = new RowsEditor("segments", "segments", List.of(
                new RowsEditor.Column("kind", 96, LoadForm.KINDS), RowsEditor.Column.text("30s", 72),
                RowsEditor.Column.text("level", 80), RowsEditor.Column.text("stairs", 60)), this::segmentsTyped);
        stopRules = new RowsEditor("a run ends early when", "stop-rules", List.of(
                new RowsEditor.Column("metric", 118,
                        StopRule.METRICS.stream().sorted(Comparator.reverseOrder()).map(Metric::id).toList()),
                RowsEditor.Column.text("over", 60), RowsEditor.Column.text("for", 52),
                new RowsEditor.Column("then", 92, LoadForm.AFTER)), this::stopRulesTyped);
        var heading = new Label("Load");
        heading.getStyleClass().add("station-heading");
        HBox.setHgrow(heading, Priority.ALWAYS);
        heading.setMaxWidth(Double.MAX_VALUE);
        var top = new HBox(8, heading);
        top.getChildren().addAll(UndoButtons.of(session));
        HBox columns = new HBox(22, left(), right());
        VBox.setVgrow(columns, Priority.ALWAYS);
        view.getStyleClass().add("station");
        view.getChildren().addAll(top, columns);
    }

    private Node left() {
        var group = new ToggleGroup();
        open.setToggleGroup(group);
        closed.setToggleGroup(group);
        open.setId("model-open");
        closed.setId("model-closed");
        open.setOnAction(_ -> choose("open"));
        closed.setOnAction(_ -> choose("closed"));
        explanation.setWrapText(true);
        explanation.getStyleClass().add("muted");
        search.setId("search");
        search.setAccessibleText("one profile or a search");
        search.setOnAction(_ -> chooseSearch(search.getValue()));
        var searched = new Label("levels");
        searched.getStyleClass().add("attribute");
        searched.setMinWidth(172);
        searchRow.getChildren().addAll(searched, search);
        searchRow.setAlignment(Pos.CENTER_LEFT);
        together.setId("together");
        together.setOnAction(_ -> {
            if (!filling) {
                session.edit(Map.of("plan.order", together.isSelected() ? "together" : "in-turn"), this::reject);
            }
        });
        levels.getChildren().addAll(open, closed, explanation, searchRow);
        var all = new VBox(9, crowds.view(), levels, crowdFields.view(), fields.view(), together, stopRules.view());
        all.setPrefWidth(LEFT_WIDTH - 16);
        all.setMaxWidth(LEFT_WIDTH - 16);
        var scroll = new ScrollPane(all);
        scroll.getStyleClass().add("plain-scroll");
        scroll.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        scroll.setMinWidth(LEFT_WIDTH);
        scroll.setPrefWidth(LEFT_WIDTH);
        return scroll;
    }

    private Node right() {
        var from = new HBox(6, label("start from", "attribute"));
        from.setAlignment(Pos.CENTER_LEFT);
        from.visibleProperty().bind(searchRow.visibleProperty());
        from.managedProperty().bind(from.visibleProperty());
        for (StartShape shape : StartShape.values()) {
            var button = new Button(shape.words());
            button.getStyleClass().add("small-button");
            button.setId("start-" + shape.words());
            button.setTooltip(new Tooltip(shape.meaning()));
            button.setOnAction(_ -> session.state()
                    .ifPresent(state -> session.edit(shape.edits(state.measured()), this::reject)));
            from.getChildren().add(button);
        }
        profile.setMinHeight(232);
        profile.setPrefHeight(262);
        rejected.setWrapText(true);
        rejected.getStyleClass().add("problem");
        rejected.setId("rejected");
        rejected.managedProperty().bind(rejected.textProperty().isNotEmpty());
        check.setId("check-machine");
        check.getStyleClass().add("small-button");
        check.setTooltip(new Tooltip("Sends this workload to a peer on this machine for a second"));
        check.setOnAction(_ -> checkMachine());
        checking.getStyleClass().add("muted");
        checking.setId("checking");
        var predicted = new HBox(12, label("What this will send", "section-heading"), check, checking);
        predicted.setAlignment(Pos.CENTER_LEFT);
        var below = new ScrollPane(new VBox(8, segments.view(), rejected, predicted, facts.view()));
        below.getStyleClass().add("plain-scroll");
        below.setFitToWidth(true);
        VBox.setVgrow(below, Priority.ALWAYS);
        var right = new VBox(8, from, profile, below);
        HBox.setHgrow(right, Priority.ALWAYS);
        return right;
    }

    private static Label label(String text, String style) {
        var label = new Label(text);
        label.getStyleClass().add(style);
        return label;
    }

    private void reject(String why) {
        rejected.setText(why);
        if (!why.isEmpty()) {
            // what was typed or dragged did not become the study's: the window goes back to what is
            session.state().ifPresent(this::fill);
        }
    }

    private void choose(String model) {
        session.state().ifPresent(state -> {
            String other = model.equals("closed") ? "users" : "arrivalsPerSecond";
            boolean has = state.file().has(place() + "." + other);
            var changes = new LinkedHashMap<String, Optional<Object>>();
            changes.put("model", Optional.of(model));
            if (!has) {
                changes.put(other, Optional.of(model.equals("closed") ? "20" : "100"));
            }
            if (model.equals("closed")) {
                // only arrivals have a ceiling
                changes.put("timeline", Optional.empty());
                if (crowds.at().isEmpty()) {
                    changes.put("ceiling", Optional.empty());
                }
            }
            edit(List.of(new Edit.Put(place(), changes)));
        });
    }

    private void chooseSearch(String kind) {
        if (filling) {
            return;
        }
        session.state().ifPresent(state -> state.measured().load().single().ifPresent(load -> {
            MeasuredStudy study = state.measured();
            double level = Math.max(1, load.shape().peak());
            var changes = new LinkedHashMap<String, Optional<Object>>();
            for (String field : List.of("ladder", "ceiling", "segments", "curve", "timeline", "visits")) {
                if (!kind.equals(SEARCHES.getFirst()) || field.equals("ladder") || field.equals("ceiling")) {
                    changes.put(field, Optional.empty());
                }
            }
            var edits = new java.util.ArrayList<Edit>();
            if (kind.equals(SEARCHES.get(1))) {
                changes.put("ladder", Optional.of(StartShape.ladder(level)));
            } else if (kind.equals(SEARCHES.get(2))) {
                changes.put("ceiling", Optional.of(Map.of("from", LoadForm.plain(level), "to",
                        LoadForm.plain(level * 20))));
                changes.put("model", Optional.of("open"));
                changes.put("arrivalsPerSecond", Optional.of(LoadForm.plain(level)));
                if (study.question().requirements().isEmpty()) {
                    edits.addAll(LoadForm.require(List.of(List.of("p99", "200ms"))));
                }
            }
            if (!load.shape().isFlat() && !kind.equals(SEARCHES.getFirst())) {
                changes.put("measured", Optional.of("10s"));
            }
            edits.add(new Edit.Put("load", changes));
            edit(edits);
        }));
    }

    private void edit(List<Edit> edits) {
        rejected.setText("");
        session.edit(edits, why -> reject(why + " The study keeps its last good state."));
    }

    private void segmentsTyped() {
        session.state().flatMap(state -> own(state.measured().load()))
                .ifPresent(load -> edit(LoadForm.segments(place(), load, segments.rows())));
    }

    private void stopRulesTyped() {
        edit(LoadForm.stopWhen(stopRules.rows()));
    }

    /** The typed figures follow the handle. */
    private void preview(LoadProfile.Single load) {
        session.state().ifPresent(state -> {
            fields.preview(state, LoadForm.profile(load));
            segments.show(LoadForm.segments(load.shape()));
        });
    }

    private void commit(LoadProfile.Single load) {
        session.state().filter(state -> !state.measured().load().equals(load))
                .ifPresent(_ -> edit(LoadForm.profile(load)));
    }

    private void checkMachine() {
        session.state().ifPresent(state -> {
            check.setDisable(true);
            checking.setText("sending this workload to a peer on this machine …");
            Background.AT_ONCE.run(() -> Measurement.checkMachine(state.file(), state.presentRehearsal()), found -> {
                found.ifPresent(capacity -> session.keepCapacity(state, capacity));
                checked(found.isPresent()
                        ? ""
                        : "Kadrem has nothing of its own that answers these calls in the protocol of a candidate; the load itself"
                                + " shows whether this machine can make it.");
            }, cause -> checked(String.valueOf(cause.getMessage())));
        });
    }

    private void checked(String words) {
        check.setDisable(false);
        checking.setText(words);
        session.state().ifPresent(this::show);
    }

    @Override
    public String name() {
        return "Load";
    }

    @Override
    public Parent view() {
        return view;
    }

    @Override
    public String summary(Session.State state) {
        return LoadWords.summary(state.measured().load());
    }

    @Override
    public Progress progress(Session.State state) {
        return state.file().warnings().isEmpty() ? Progress.DONE : Progress.NEEDS_YOU;
    }

    @Override
    public void show(Session.State state) {
        rejected.setText("");
        fill(state);
        facts.show(state, session.capacity(state));
    }

    /** Where the fields stand that are looked at: those of the load, or of a crowd. */
    private String place() {
        return crowds.at().isPresent() ? CrowdEdits.path(crowds.at().getAsInt()) : CrowdEdits.LOAD;
    }

    /** The load that is looked at, from when it comes; empty for all crowds together. */
    private Optional<LoadProfile.Single> own(LoadProfile load) {
        if (crowds.at().isEmpty()) {
            return load.single();
        }
        Crowd crowd = load.crowds().get(crowds.at().getAsInt());
        // a timeline goes with its rate over time, which is the crowd's own shape
        return Optional.of(crowd.load().timeline().isPresent() ? crowd.load() : crowd.load().withShape(crowd.own()));
    }

    private void fill(Session.State state) {
        filling = true;
        MeasuredStudy study = state.measured();
        LoadProfile load = study.load();
        crowds.show(study);
        Optional<LoadProfile.Single> own = own(load);
        own.ifPresent(this::model);
        boolean single = load.single().isPresent();
        levels.setVisible(own.isPresent());
        levels.setManaged(own.isPresent());
        searchRow.setVisible(single);
        searchRow.setManaged(single);
        Optional<LevelSearch> searched = load.course().search();
        search.setValue(SEARCHES.get(searched.isEmpty() ? 0 : searched.get() instanceof LevelSearch.Ladder ? 1 : 2));
        boolean ofCrowd = crowds.at().isPresent();
        crowdFields.view().setVisible(ofCrowd);
        crowdFields.view().setManaged(ofCrowd);
        List.of(fields.view(), together, stopRules.view()).forEach(node -> {
            node.setVisible(!ofCrowd);
            node.setManaged(!ofCrowd);
        });
        if (ofCrowd) {
            crowdFields.show(state, place());
        }
        fields.show(state, CrowdEdits.LOAD);
        together.setSelected(study.plan().together());
        segments.show(own.map(one -> LoadForm.segments(one.shape())).orElse(List.of()));
        segments.view().setVisible(searched.isEmpty() && load.course().visits().isEmpty()
                && own.filter(one -> one.shape().table().isEmpty()).isPresent());
        segments.view().setManaged(segments.view().isVisible());
        stopRules.show(LoadForm.stopRules(load.course().stopRules()));
        switch (load) {
            case LoadProfile.Single one -> profile.show(one, look.figures());
            case Crowds all -> profile.show(all, crowds.at().isPresent()
                    ? Optional.of(all.crowds().get(crowds.at().getAsInt()).name())
                    : Optional.empty(), look.figures());
        }
        filling = false;
    }

    private void model(LoadProfile.Single load) {
        boolean isOpen = load instanceof LoadProfile.Open;
        open.setSelected(isOpen);
        closed.setSelected(!isOpen);
        explanation.setText(LoadWords.explanation(load));
    }
}
