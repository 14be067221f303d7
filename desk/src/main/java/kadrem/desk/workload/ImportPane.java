package kadrem.desk.workload;

import java.io.File;
import java.io.IOException;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.DoubleConsumer;
import java.util.stream.Collectors;

import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.stage.FileChooser;
import kadrem.desk.look.Background;
import kadrem.desk.Session;
import kadrem.files.imports.Answer;
import kadrem.files.imports.CallCollector;
import kadrem.files.imports.HarImport;
import kadrem.files.imports.ImportException;
import kadrem.files.imports.Imported;
import kadrem.files.imports.Importing;
import kadrem.files.imports.log.AccessLog;
import kadrem.files.imports.log.LogChoice;
import kadrem.core.study.MeasuredStudy;
import kadrem.load.gate.Consent;
import kadrem.load.record.RecordingProxy;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Takes calls over from a file, a pasted text or a recording, and shows first what is kept; one file, since all three fill one preview. */
final class ImportPane implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(ImportPane.class);
    private static final int MAX_SHOWN = 200;

    private final Session session;
    private final Runnable leaving;
    private final VBox view = new VBox(10);
    private final TextField file = new TextField();
    private final TextArea pasted = new TextArea();
    private final ProgressBar progress = new ProgressBar(0);
    private final FlowPane hosts = new FlowPane(14, 6);
    private final TextField port = new TextField("18090");
    private final Button record = new Button("Record");
    private final CheckBox keepStatic = new CheckBox("keep style sheets, scripts, pictures and fonts");
    private final Label summary = new Label();
    private final TextArea preview = new TextArea();
    private final Button add = new Button("Add to the workload");
    private final LogOptions ofLog = new LogOptions(this::readFile);
    private Optional<Found> found = Optional.empty();
    private @Nullable RecordingProxy proxy;
    /** Of several readings that were begun, the last one counts. */
    private int reading;

    ImportPane(Session session, Runnable leaving) {
        this.session = session;
        this.leaving = leaving;
        var title = new Label("Import calls");
        title.getStyleClass().add("section-heading");
        var words = new Label(
                "A capture (HTTP Archive 1.2), an OpenAPI 3 description or a request text as a file; an access log, of"
                        + " which the load is made, too; or paste a curl command or a request.");
        words.setWrapText(true);
        words.getStyleClass().add("muted");
        file.setPromptText("file");
        file.setId("import-file");
        file.setAccessibleText("file to import");
        file.getStyleClass().add("code-field");
        file.setOnAction(_ -> readFile());
        HBox.setHgrow(file, Priority.ALWAYS);
        var choose = new Button("Choose…");
        choose.setOnAction(_ -> choose());
        pasted.setPromptText("curl 'http://127.0.0.1:8080/berths/7' -H 'Accept: application/json'");
        pasted.setId("import-pasted");
        pasted.setAccessibleText("pasted command or request");
        pasted.setPrefRowCount(4);
        pasted.setWrapText(true);
        pasted.getStyleClass().add("exchange-text");
        pasted.textProperty().addListener((_, _, text) -> readText(text));
        progress.setVisible(false);
        progress.setMaxWidth(Double.MAX_VALUE);
        keepStatic.setOnAction(_ -> readFile());
        keepStatic.setVisible(false);
        for (Node one : List.of(progress, keepStatic)) {
            one.managedProperty().bind(one.visibleProperty());
        }
        hosts.managedProperty().bind(javafx.beans.binding.Bindings.isNotEmpty(hosts.getChildren()));
        summary.setWrapText(true);
        summary.setId("import-summary");
        preview.setEditable(false);
        preview.setPrefRowCount(9);
        preview.getStyleClass().add("exchange-text");
        preview.setAccessibleText("calls that would be added");
        VBox.setVgrow(preview, Priority.ALWAYS);
        add.getStyleClass().add("accent");
        add.setId("import-add");
        add.setDisable(true);
        add.setOnAction(_ -> add());
        var back = new Button("Back");
        back.setId("import-back");
        back.setOnAction(_ -> leave());
        record.setId("import-record");
        record.setOnAction(_ -> toggleRecording());
        var recordWords = new Label("or record a client that uses a proxy for plain HTTP on 127.0.0.1 port");
        port.setId("import-port");
        port.setAccessibleText("port of the recording proxy");
        port.setPrefWidth(70);
        port.getStyleClass().add("code-field");
        var recording = new HBox(6, recordWords, port, record);
        recording.setAlignment(Pos.CENTER_LEFT);
        var from = new HBox(6, file, choose);
        from.setAlignment(Pos.CENTER_LEFT);
        view.getChildren().addAll(title, words, from, pasted, recording, progress, hosts, keepStatic, ofLog.view(),
                summary, preview,
                new HBox(8, add, back));
    }

    Node view() {
        return view;
    }

    private void choose() {
        var chooser = new FileChooser();
        chooser.setTitle("Import calls from a file");
        Optional.ofNullable(chooser.showOpenDialog(view.getScene().getWindow())).map(File::toPath)
                .ifPresent(this::open);
    }

    /** Reads a file, as after it was dropped here. */
    void open(Path path) {
        file.setText(path.toString());
        hosts.getChildren().clear();
        readFile();
    }

    private interface Reading {
        Found read(DoubleConsumer progress) throws ImportException;
    }

    private void readText(String text) {
        if (text.isBlank()) {
            return;
        }
        file.clear();
        hosts.getChildren().clear();
        keepStatic.setVisible(false);
        ofLog.show(false);
        read(_ -> Found.of(session, Importing.text(Importing.guess(text), text)));
    }

    private void readFile() {
        String name = file.getText().strip();
        if (name.isEmpty()) {
            return;
        }
        Path path = Path.of(name);
        boolean keep = keepStatic.isSelected();
        Set<String> wanted = chosenHosts();
        LogChoice choice = ofLog.choice();
        Optional<MeasuredStudy> study = session.state().map(Session.State::measured);
        read(told -> {
            Importing.Kind kind = Importing.guess(path);
            Platform.runLater(() -> ofLog.show(kind == Importing.Kind.LOG));
            if (kind == Importing.Kind.LOG && study.isPresent()) {
                return Found.of(session, AccessLog.read(path, study.get(), choice, told));
            }
            if (kind == Importing.Kind.CAPTURE && wanted.isEmpty()) {
                HarImport.Survey survey = HarImport.survey(path, told);
                Platform.runLater(() -> offer(survey));
            }
            return Found.of(session, Importing.file(kind, path, wanted, keep, told));
        });
    }

    private Set<String> chosenHosts() {
        return hosts.getChildren().stream().filter(CheckBox.class::isInstance).map(CheckBox.class::cast)
                .filter(CheckBox::isSelected).map(box -> String.valueOf(box.getUserData()))
                .collect(Collectors.toCollection(HashSet::new));
    }

    private void offer(HarImport.Survey survey) {
        hosts.getChildren().clear();
        for (Map.Entry<String, Long> host : survey.hosts().entrySet()) {
            var box = new CheckBox(host.getKey() + " (" + host.getValue() + ")");
            box.setUserData(host.getKey());
            box.setSelected(survey.busiest().filter(host.getKey()::equals).isPresent());
            box.setOnAction(_ -> readFile());
            hosts.getChildren().add(box);
        }
        keepStatic.setVisible(true);
    }

    /** Reads in the background, so that a large file does not hold the window up. */
    private void read(Reading work) {
        int number = ++reading;
        progress.setProgress(0);
        progress.setVisible(true);
        add.setDisable(true);
        summary.getStyleClass().setAll("label", "muted");
        summary.setText("Reading …");
        var told = new double[1];
        Background.AT_ONCE.run(() -> work.read(share -> {
            if (share - told[0] > 0.01) {
                told[0] = share;
                Platform.runLater(() -> progress.setProgress(share));
            }
        }), made -> ended(number, Optional.of(made), made.summary() + "."), cause -> {
            if (!(cause instanceof ImportException)) {
                LOG.error("the import broke down", cause);
            }
            ended(number, Optional.empty(), cause instanceof ImportException
                    ? String.valueOf(cause.getMessage())
                    : "This could not be read: " + cause.getMessage());
        });
    }

    private void ended(int number, Optional<Found> made, String words) {
        if (number != reading) {
            return;
        }
        found = made;
        progress.setVisible(false);
        add.setDisable(made.isEmpty());
        summary.getStyleClass().setAll("label", made.isPresent() ? "fact" : "problem");
        summary.setText(words + made.map(one -> one.notes().stream().map(note -> "\nNote: " + note)
                .collect(Collectors.joining())).orElse(""));
        preview.setText(made.map(one -> one.lines().stream().limit(MAX_SHOWN)
                .collect(Collectors.joining("\n"))).orElse(""));
    }

    private void toggleRecording() {
        RecordingProxy running = proxy;
        if (running != null) {
            stopRecording();
            return;
        }
        // every host is kept: what a client was made to send was meant
        var collector = new CallCollector(_ -> true, keepStatic.isSelected());
        int number = ++reading;
        try {
            proxy = RecordingProxy.on(Integer.parseInt(port.getText().strip()), Consent.ofUser()::allows,
                    request -> Platform.runLater(() -> {
                        collector.take(request.method(), request.host(), request.target(), request.headers(),
                                request.body(),
                                Answer.of(request.contentType(), request.answerHeaders(), request.answer()),
                                Optional.of(request.begun()), request.took());
                        if (!collector.isEmpty()) {
                            Imported made = collector.imported("recorded");
                            ended(number, Optional.of(Found.of(session, made)), made.summary() + ".");
                        }
                    }));
            record.setText("Stop recording");
            keepStatic.setVisible(true);
            summary.getStyleClass().setAll("label", "fact");
            summary.setText("Recording. Tell the client to use the proxy http://127.0.0.1:" + proxy.port()
                    + ", and use it.");
        } catch (IOException cause) {
            summary.getStyleClass().setAll("label", "problem");
            summary.setText("The port cannot be had: " + cause.getMessage() + ". Choose another.");
        } catch (NumberFormatException _) {
            summary.getStyleClass().setAll("label", "problem");
            summary.setText("\"" + port.getText() + "\" is no port. Write a number such as 18090.");
        }
    }

    private void stopRecording() {
        RecordingProxy running = proxy;
        proxy = null;
        record.setText("Record");
        if (running != null) {
            Background.AT_ONCE.run(running::close);
        }
    }

    @Override
    public void close() {
        stopRecording();
    }

    private void leave() {
        stopRecording();
        leaving.run();
    }

    private void add() {
        session.state().ifPresent(state -> found.ifPresent(one -> {
            add.setDisable(true);
            progress.setVisible(true);
            one.adding().add(state, share -> Platform.runLater(() -> progress.setProgress(share)), this::refused,
                    this::leave);
        }));
    }

    private void refused(String why) {
        progress.setVisible(false);
        add.setDisable(false);
        summary.getStyleClass().setAll("label", "problem");
        summary.setText(why);
    }
}
