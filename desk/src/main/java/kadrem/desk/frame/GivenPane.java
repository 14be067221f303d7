package kadrem.desk.frame;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextArea;
import javafx.scene.input.TransferMode;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.stage.FileChooser;
import javafx.stage.Window;
import kadrem.desk.look.Background;
import kadrem.work.MakeStudy;

/** Asks a newcomer what there is to choose between, and makes the study of it: addresses and curl commands are enough. */
final class GivenPane {
    private static final int ROWS = 4;

    private final Consumer<Path> made;
    private final Consumer<String> figures;
    private final TextArea given = new TextArea();
    private final Label problem = new Label();
    private final Button begin = new Button("Begin");
    private final VBox notes = new VBox(6);
    private final VBox view;

    /**
     * @param made told the folder of the study that was made
     * @param figures told the file of figures, of which there is more to be said before a study can be made of it
     */
    GivenPane(Window window, Consumer<Path> made, Consumer<String> figures) {
        this.made = made;
        this.figures = figures;
        given.setId("given");
        given.setPrefRowCount(ROWS);
        given.setMaxWidth(OpeningPane.WIDTH);
        given.setMinHeight(Region.USE_PREF_SIZE);
        given.getStyleClass().add("exchange-text");
        given.setAccessibleText("addresses or curl commands of what there is to choose between");
        given.setPromptText("""
                http://127.0.0.1:8081/berths/7
                http://127.0.0.1:8082/berths/7
                or a curl command for each, or postgres://user@host/board, redis://host, grpc://host:50051
                where it does not run yet: ADDRESS launched by COMMAND""");
        given.setOnDragOver(event -> {
            if (event.getDragboard().hasFiles()) {
                event.acceptTransferModes(TransferMode.COPY);
                event.consume();
            }
        });
        given.setOnDragDropped(event -> {
            boolean some = event.getDragboard().hasFiles();
            if (some) {
                event.getDragboard().getFiles().forEach(this::add);
                event.consume();
            }
            event.setDropCompleted(some);
        });
        var file = new Button("Add a file…");
        file.setId("given-file");
        file.setOnAction(_ -> {
            var chooser = new FileChooser();
            chooser.setTitle(
                    "A capture, an API description, a .proto file, a request, an access log or a table of figures");
            Optional.ofNullable(chooser.showOpenDialog(window)).ifPresent(this::add);
        });
        begin.setId("begin");
        begin.getStyleClass().add("accent");
        begin.disableProperty().bind(given.textProperty().map(String::isBlank));
        begin.setOnAction(_ -> begin());
        notes.setId("given-notes");
        problem.setId("given-problem");
        problem.setWrapText(true);
        problem.setMaxWidth(OpeningPane.WIDTH);
        problem.getStyleClass().add("problem");
        problem.managedProperty().bind(problem.textProperty().isNotEmpty());
        view = new VBox(8, given, problem, new HBox(8, begin, file), notes);
    }

    Node view() {
        return view;
    }

    /** A file has a line of its own; of a table of figures more has to be said. */
    void add(File file) {
        if (file.getName().toLowerCase(Locale.ROOT).endsWith(".csv")) {
            figures.accept(file.toString());
            return;
        }
        String before = given.getText().stripTrailing();
        given.setText((before.isEmpty() ? "" : before + "\n") + file + "\n");
    }

    private record Made(Path folder, List<String> notes) {
    }

    private void begin() {
        problem.setText("");
        notes.getChildren().clear();
        String text = given.getText();
        if (text.strip().toLowerCase(Locale.ROOT).endsWith(".csv") && !text.strip().contains("\n")) {
            figures.accept(text.strip());
            return;
        }
        Background.AT_ONCE.run(() -> {
            Path folder = unused(text);
            return new Made(folder, MakeStudy.of(folder, "", List.of(text)));
        }, this::made, cause -> problem.setText("No study was made: " + cause.getMessage()));
    }

    /** What was not taken over as it stood is read before it goes on. */
    private void made(Made study) {
        if (study.notes().isEmpty()) {
            made.accept(study.folder());
            return;
        }
        for (String note : study.notes()) {
            var words = new Label(note + ".");
            words.setWrapText(true);
            words.setMaxWidth(OpeningPane.WIDTH);
            words.getStyleClass().add("fact");
            notes.getChildren().add(words);
        }
        var on = new Button("Go on with the study");
        on.setId("go-on");
        on.getStyleClass().add("accent");
        on.setOnAction(_ -> made.accept(study.folder()));
        notes.getChildren().add(on);
    }

    /** A folder of its own among the user's studies, named after the first host. */
    private static Path unused(String text) throws IOException {
        Path studies = ShippedStudies.ofUser().resolve("studies");
        Files.createDirectories(studies);
        String host = text.replaceFirst("(?s).*?https?://([^/\\s'\"?#]+).*", "$1");
        String stem = host.equals(text) ? "study" : host.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9.]+", "-");
        Path folder = studies.resolve(stem);
        for (int i = 2; Files.exists(folder); i++) {
            folder = studies.resolve(stem + "-" + i);
        }
        return folder;
    }
}
