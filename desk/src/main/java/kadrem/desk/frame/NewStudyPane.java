package kadrem.desk.frame;

import java.io.File;
import java.io.IOException;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.stage.DirectoryChooser;
import javafx.stage.FileChooser;
import javafx.stage.Window;
import kadrem.core.study.Metric;
import kadrem.files.compare.NewStudyOfFigures;
import kadrem.files.export.StudyZip;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyException;
import kadrem.load.gate.Consent;

/** Asks for the folder of a study that is to be made, and from what: nothing, figures measured elsewhere, or an archive. */
final class NewStudyPane {
    private final Window window;
    private final Consumer<Path> made;
    private final TextField folder = new TextField();
    private final TextField from = new TextField();
    private final ComboBox<String> metric = new ComboBox<>();
    private final TextField unit = new TextField("ms");
    private final Label problem = new Label();
    private final VBox view;

    /**
     * @param source the file that it is to be made of, or empty
     * @param made told the folder of the study that was made
     */
    NewStudyPane(Window window, VBox message, String source, Consumer<Path> made) {
        this.window = window;
        this.made = made;
        folder.setId("new-folder");
        folder.setPromptText("folder to be made, or an empty one");
        folder.setAccessibleText("folder of the new study");
        from.setId("new-from");
        from.setText(source);
        from.setPromptText("nothing; or a CSV file with candidate,round,value, or an archive from Export");
        from.setAccessibleText("file to make the study from");
        metric.setId("new-metric");
        metric.setAccessibleText("what the values of the file are");
        metric.getItems().setAll(Metric.all().stream().map(Metric::id).toList());
        metric.setValue(Metric.P99.id());
        unit.setId("new-unit");
        unit.setAccessibleText("unit of the values, such as ms, %, MiB");
        unit.setPrefColumnCount(5);
        problem.setWrapText(true);
        problem.getStyleClass().add("problem");
        problem.setId("new-problem");
        var make = new Button("Make the study");
        make.getStyleClass().add("accent");
        make.setId("make-study");
        make.disableProperty().bind(folder.textProperty().isEmpty());
        make.setOnAction(_ -> make());
        folder.setOnAction(_ -> make());
        from.setOnAction(_ -> make());
        var values = new HBox(6, words("its values are"), metric, words("in"), unit);
        values.setAlignment(Pos.CENTER_LEFT);
        // only a table of figures has values of which nothing is known
        values.visibleProperty().bind(from.textProperty().map(text -> text.toLowerCase(java.util.Locale.ROOT)
                .endsWith(".csv")));
        view = message;
        view.getChildren().addAll(row("Folder", folder, this::chooseFolder), row("Made from", from, this::chooseFile),
                values,
                make, problem);
    }

    Node view() {
        return view;
    }

    private static Label words(String text) {
        var label = new Label(text);
        label.setMinWidth(Region.USE_PREF_SIZE);
        return label;
    }

    private static HBox row(String name, TextField field, Runnable choose) {
        var label = words(name);
        label.setPrefWidth(84);
        field.setMaxWidth(560);
        HBox.setHgrow(field, Priority.ALWAYS);
        var browse = new Button("Choose…");
        browse.setMinWidth(Region.USE_PREF_SIZE);
        browse.setOnAction(_ -> choose.run());
        var row = new HBox(6, label, field, browse);
        row.setAlignment(Pos.CENTER_LEFT);
        return row;
    }

    private void chooseFolder() {
        var chooser = new DirectoryChooser();
        chooser.setTitle("Folder of the new study");
        Optional.ofNullable(chooser.showDialog(window)).ifPresent(chosen -> folder.setText(chosen.toString()));
    }

    private void chooseFile() {
        var chooser = new FileChooser();
        chooser.setTitle("Figures or an archive");
        chooser.getExtensionFilters().add(new FileChooser.ExtensionFilter("Figures or archive", "*.csv", "*.zip"));
        File chosen = chooser.showOpenDialog(window);
        if (chosen != null) {
            from.setText(chosen.toString());
        }
    }

    private void make() {
        problem.setText("");
        if (folder.getText().isBlank()) {
            problem.setText("No study was made: name the folder that it is to be.");
            return;
        }
        try {
            Path path = Path.of(folder.getText().strip());
            String source = from.getText().strip();
            if (source.isEmpty()) {
                NewStudy.create(path, "");
                Consent.ofUser().own(path);
            } else if (StudyZip.isOne(Path.of(source))) {
                StudyZip.unpack(Path.of(source), path);
            } else {
                NewStudyOfFigures.create(path, "", Path.of(source), metric.getValue(), unit.getText().strip());
                Consent.ofUser().own(path);
            }
            made.accept(path);
        } catch (IOException | InvalidPathException | StudyException cause) {
            problem.setText("No study was made: " + cause.getMessage());
        }
    }
}
