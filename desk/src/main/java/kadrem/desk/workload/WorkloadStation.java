package kadrem.desk.workload;

import java.util.LinkedHashMap;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.Scene;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyCodeCombination;
import javafx.scene.input.KeyCombination;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.TransferMode;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.desk.Destination;
import kadrem.desk.Session;
import kadrem.desk.Station;
import kadrem.desk.candidates.CandidatesStation;
import kadrem.desk.UndoButtons;
import kadrem.desk.form.FieldEditor;
import kadrem.desk.workload.Strands.Place;
import kadrem.files.study.Edit;

/**
 * Visits as strands, calls as beads on them, the form of the chosen call, and the value lists; one file, since strands, form and lists
 * show one choice.
 */
public final class WorkloadStation implements Station, AutoCloseable {
    /** Not a place on a strand: what holds for the whole workload. */
    private static final Place ALL_CALLS = new Place(-2, -1);

    private final Session session;
    private final VBox view = new VBox(10);
    private final Strands strands = new Strands(this::choose);
    private final Label rejected = new Label();
    private final Label whyWrong = new Label();
    private final Label title = new Label();
    private final VBox editorPlace = new VBox(8);
    private final CallEditor callEditor;
    private final VisitEditor visitEditor;
    private final AllCallsEditor allCalls;
    private final ListsEditor lists;
    private final TryPane trying;
    private final Button addCall = new Button("Add a call");
    private final Button earlier = new Button("Earlier");
    private final Button later = new Button("Later");
    private final Button duplicate = new Button("Duplicate");
    private final Button remove = new Button("Remove");
    private final VBox content = new VBox(8);
    private final ScrollPane scroll = new ScrollPane(content);
    private Optional<ImportPane> importPane = Optional.empty();
    private Place selected = new Place(0, 0);

    public WorkloadStation(Session session, CandidatesStation candidates) {
        this.session = session;
        callEditor = new CallEditor(session, rejected::setText);
        visitEditor = new VisitEditor(session, rejected::setText);
        allCalls = new AllCallsEditor(session, rejected::setText, this::addFirst);
        lists = new ListsEditor(session, rejected::setText, this::showLists);
        trying = new TryPane(session, candidates, callEditor);
        var heading = new Label("Workload");
        heading.getStyleClass().add("station-heading");
        var addVisit = new Button("Add a visit");
        addVisit.getStyleClass().add("accent");
        addVisit.setId("add-visit");
        addVisit.setOnAction(_ -> addVisit());
        addCall.setId("add-call");
        addCall.setOnAction(_ -> addCall());
        earlier.setOnAction(_ -> move(-1));
        later.setOnAction(_ -> move(1));
        duplicate.setOnAction(_ -> duplicate());
        remove.setId("remove");
        remove.setOnAction(_ -> remove());
        var all = new Button("All calls…");
        all.setId("all-calls");
        all.setOnAction(_ -> choose(ALL_CALLS));
        var importing = new Button("Import…");
        importing.setId("import");
        importing.setOnAction(_ -> beginImport());
        var actions = new FlowPane(8, 6, addVisit, addCall, all, importing, earlier, later, duplicate, remove);
        actions.getChildren().addAll(UndoButtons.of(session));
        actions.setAlignment(Pos.CENTER_LEFT);
        rejected.setWrapText(true);
        rejected.getStyleClass().add("problem");
        rejected.setId("workload-rejected");
        rejected.managedProperty().bind(rejected.textProperty().isNotEmpty());
        whyWrong.setWrapText(true);
        whyWrong.setId("why-wrong");
        whyWrong.getStyleClass().add("problem");
        whyWrong.managedProperty().bind(whyWrong.textProperty().isNotEmpty());
        title.getStyleClass().add("section-heading");
        title.setId("editor-title");
        var listHeading = new Label("Value lists");
        listHeading.getStyleClass().add("section-heading");
        var head = new HBox(18, title, trying.hand());
        head.setAlignment(Pos.CENTER_LEFT);
        content.getChildren().addAll(strands.view(), whyWrong, rejected, head, editorPlace, trying.result(),
                listHeading,
                lists.view());
        scroll.setFitToWidth(true);
        scroll.getStyleClass().add("plain-scroll");
        VBox.setVgrow(scroll, Priority.ALWAYS);
        view.getStyleClass().add("station");
        view.getChildren().addAll(heading, actions, scroll);
        view.addEventFilter(KeyEvent.KEY_PRESSED, event -> {
            if (new KeyCodeCombination(KeyCode.ENTER, KeyCombination.SHORTCUT_DOWN).match(event)) {
                event.consume();
                trying.tryIt();
            }
        });
        view.setOnDragOver(event -> {
            if (event.getDragboard().hasFiles()) {
                event.acceptTransferModes(TransferMode.COPY);
            }
        });
        view.setOnDragDropped(event -> {
            event.getDragboard().getFiles().stream().findFirst().ifPresent(file -> beginImport().open(file.toPath()));
            event.setDropCompleted(true);
        });
    }

    /** Brings the value lists into sight, which stand last, once what was just opened below them has its place. */
    private void showLists() {
        Scene scene = scroll.getScene();
        scene.addPostLayoutPulseListener(new Runnable() {
            @Override
            public void run() {
                scene.removePostLayoutPulseListener(this);
                scroll.setVvalue(scroll.getVmax());
            }
        });
    }

    /** Puts the import in the place of the workload until it is done. */
    private ImportPane beginImport() {
        importPane.ifPresent(ImportPane::close);
        var pane = new ImportPane(session, () -> scroll.setContent(content));
        importPane = Optional.of(pane);
        scroll.setContent(pane.view());
        return pane;
    }

    /** Ends a recording that is under way: its listener would keep the program alive. */
    @Override
    public void close() {
        trying.close();
        importPane.ifPresent(ImportPane::close);
    }

    @Override
    public String name() {
        return "Workload";
    }

    @Override
    public Parent view() {
        return view;
    }

    @Override
    public String summary(Session.State state) {
        Workload workload = state.measured().workload();
        int visits = workload.visits().size();
        int calls = workload.calls().size();
        return visits + (visits == 1 ? " visit, " : " visits, ") + calls + (calls == 1 ? " call" : " calls");
    }

    private static List<String> warnings(Session.State state) {
        return state.file().warnings().stream().filter(at -> at.problem().path().startsWith("workload"))
                .map(at -> at.problem().path().replaceFirst("^workload\\.", "") + " " + at.problem().what() + ". "
                        + at.problem().mend())
                .toList();
    }

    @Override
    public Progress progress(Session.State state) {
        return warnings(state).isEmpty() ? Progress.DONE : Progress.NEEDS_YOU;
    }

    /** Shows how the chosen call is asked in a protocol. */
    public void askIn(String protocol) {
        callEditor.askIn(protocol);
    }

    @Override
    public List<Destination> destinations(Session.State state) {
        Workload workload = state.measured().workload();
        var all = new ArrayList<Destination>();
        for (int visit = 0; visit < workload.visits().size(); visit++) {
            Place whole = new Place(visit, -1);
            String name = workload.visits().get(visit).name();
            all.add(new Destination(name, "Workload, a visit", () -> choose(whole)));
            calls(all, visit, workload.visits().get(visit).calls(), "Workload, a call of the visit " + name);
        }
        calls(all, -1, workload.first(), "Workload, a call of the first part");
        workload.values()
                .forEach(list -> all.add(new Destination(list.name(), "Workload, a value list", this::showLists)));
        return all;
    }

    private void calls(List<Destination> all, int visit, List<Call> calls, String what) {
        for (int call = 0; call < calls.size(); call++) {
            Place place = new Place(visit, call);
            all.add(new Destination(calls.get(call).name(), what, () -> choose(place)));
        }
    }

    private void choose(Place place) {
        selected = place;
        rejected.setText("");
        session.state().ifPresent(this::show);
    }

    @Override
    public void show(Session.State state) {
        Workload workload = state.measured().workload();
        boolean overall = selected.equals(ALL_CALLS);
        if (selected.call() >= 0 && selected.find(workload).isEmpty()
                || selected.visit() >= workload.visits().size()) {
            selected = new Place(0, 0);
        }
        Map<String, String> wrong = wrong(state);
        strands.show(workload, selected, wrong);
        whyWrong.setText(wrong.entrySet().stream().map(one -> one.getKey() + ": " + one.getValue())
                .collect(Collectors.joining("\n")));
        Optional<Call> call = selected.find(workload);
        boolean isCall = call.isPresent();
        duplicate.setDisable(!isCall);
        addCall.setDisable(overall);
        if (call.isPresent()) {
            title.setText("Call " + call.get().name());
            callEditor.show(state, selected.path(), call.get());
            only(callEditor.view());
        } else if (overall) {
            title.setText("All calls");
            allCalls.show(state);
            only(allCalls.view());
        } else if (selected.visit() >= 0) {
            Visit visit = workload.visits().get(selected.visit());
            title.setText("Visit " + visit.name());
            visitEditor.show(state, selected.path());
            only(visitEditor.view());
        }
        trying.show(state.study(), isCall ? selected : null);
        int items = isCall ? siblings(workload) : workload.visits().size();
        int index = isCall ? selected.call() : selected.visit();
        earlier.setDisable(index <= 0);
        later.setDisable(overall || index >= items - 1);
        remove.setDisable(overall || items <= 1 && selected.visit() >= 0);
        lists.show(workload.values(), warnings(state));
    }

    /** Why calls were not good in the present rehearsal, by their names. */
    private static Map<String, String> wrong(Session.State state) {
        Map<String, String> wrong = new LinkedHashMap<>();
        state.presentRehearsal().stream().flatMap(one -> one.candidates().stream())
                .forEach(one -> one.calls().stream().filter(call -> !call.isGood()).forEach(call -> wrong.merge(
                        call.call(), name(state, one.candidate()) + ": " + call.failure().orElseThrow().id()
                                + (call.detail().isEmpty() ? "" : ", " + call.detail()),
                        (a, b) -> a + "; " + b)));
        return wrong;
    }

    private static String name(Session.State state, String candidate) {
        return state.study().candidate(candidate).map(Candidate::name).orElse(candidate);
    }

    private void only(Node editor) {
        if (!editorPlace.getChildren().equals(List.of(editor))) {
            editorPlace.getChildren().setAll(editor);
        }
    }

    private int siblings(Workload workload) {
        return selected.visit() < 0
                ? workload.first().size()
                : workload.visits().get(selected.visit()).calls().size();
    }

    /** @param then what is selected afterwards */
    private void edit(Place then, Edit edit) {
        rejected.setText("");
        session.edit(List.of(edit), why -> rejected.setText(why + " The study keeps its last good state."), () -> {
            selected = then;
            session.state().ifPresent(this::show);
        });
    }

    private static String unused(Workload workload, String stem) {
        Set<String> names = workload.calls().stream().map(Call::name).collect(Collectors.toSet());
        String name = stem;
        for (int i = 2; names.contains(name); i++) {
            name = stem + "-" + i;
        }
        return name;
    }

    private static Map<String, Object> newCall(Workload workload) {
        Map<String, Object> call = new LinkedHashMap<>();
        call.put("name", unused(workload, "call"));
        call.put("method", "GET");
        call.put("path", "/");
        return call;
    }

    private void addVisit() {
        session.state().ifPresent(state -> {
            Workload workload = state.measured().workload();
            int index = workload.visits().size();
            Map<String, Object> visit = new LinkedHashMap<>();
            visit.put("name", "visit " + (index + 1));
            visit.put("share", 10);
            visit.put("calls", List.of(newCall(workload)));
            edit(new Place(index, 0), new Edit.Insert("workload.visits", index, visit));
        });
    }

    private void addCall() {
        session.state().ifPresent(state -> {
            Workload workload = state.measured().workload();
            int index = siblings(workload);
            var place = new Place(selected.visit(), index);
            edit(place, new Edit.Insert(place.calls(), index, newCall(workload)));
        });
    }

    private void addFirst() {
        session.state().ifPresent(state -> {
            Workload workload = state.measured().workload();
            edit(new Place(-1, workload.first().size()),
                    new Edit.Insert("workload.first", workload.first().size(), newCall(workload)));
        });
    }

    private void duplicate() {
        session.state().ifPresent(state -> selected.find(state.measured().workload()).ifPresent(call -> {
            Place place = selected;
            edit(new Place(place.visit(), place.call() + 1),
                    new Edit.Copy(place.calls(), place.call(), place.call() + 1,
                            Map.of("name", Optional.of(unused(state.measured().workload(), call.name())))));
        }));
    }

    private void move(int by) {
        Place place = selected;
        if (place.call() >= 0) {
            edit(new Place(place.visit(), place.call() + by),
                    new Edit.Move(place.calls(), place.call(), place.call() + by));
        } else {
            edit(new Place(place.visit() + by, -1),
                    new Edit.Move("workload.visits", place.visit(), place.visit() + by));
        }
    }

    private void remove() {
        Place place = selected;
        if (place.call() >= 0) {
            edit(new Place(place.visit(), Math.max(0, place.call() - 1)), new Edit.Remove(place.calls(), place.call()));
        } else {
            edit(new Place(Math.max(0, place.visit() - 1), 0), new Edit.Remove("workload.visits", place.visit()));
        }
    }

    /** A field with its name before it. */
    static HBox named(FieldEditor editor) {
        var box = new HBox(6, editor.label(), editor.control());
        box.setAlignment(Pos.CENTER_LEFT);
        return box;
    }
}
