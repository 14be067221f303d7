package kadrem.desk.export;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ButtonType;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Dialog;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.stage.DirectoryChooser;
import javafx.stage.Window;
import kadrem.desk.look.Background;
import kadrem.files.compare.Results;
import kadrem.files.export.DataFiles;
import kadrem.files.export.SecretsFound;
import kadrem.files.export.StudyZip;
import kadrem.files.report.ReportFiles;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.drive.Secrets;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Asks what is to be written of a study and where to, and writes it beside the interface thread. */
public final class ExportDialog {
    private static final Logger LOG = LoggerFactory.getLogger(ExportDialog.class);

    private final StudyFile study;
    private final Dialog<ButtonType> dialog = new Dialog<>();
    private final Map<What, CheckBox> choices = new EnumMap<>(What.class);
    private final TextField folder = new TextField();
    private final Button write = new Button("Write");
    private final Label told = new Label();
    /** Offered once what was to be written was found to hold what looks like secrets. */
    private final CheckBox evenSo = new CheckBox("Pack it although it holds what looks like secrets");

    /** Something that can be written. */
    private enum What {
        HTML("Report for a browser", "report.html: one file with everything in it, works without a network"), PDF(
                "Report on paper",
                "report.pdf: the same on pages of A4, without the long tables"), RECORD("Decision record",
                        "decision.md: context, options, evidence, decision, consequences"), DATA(
                                "Figures for other programs",
                                "data/: runs, comparison and samples as CSV and JSON, latencies as HdrHistogram logs"), ZIP(
                                        "The whole study",
                                        "one archive that opens elsewhere with the same figures (kadrem import)");

        private final String title;
        private final String explained;

        What(String title, String explained) {
            this.title = title;
            this.explained = explained;
        }
    }

    private ExportDialog(StudyFile study, Window owner) {
        this.study = study;
        dialog.initOwner(owner);
        dialog.setTitle("Export");
        dialog.getDialogPane().getStylesheets().setAll(owner.getScene().getStylesheets());
        dialog.getDialogPane().getStyleClass().add("export");
        dialog.getDialogPane().getButtonTypes().add(ButtonType.CLOSE);
        dialog.getDialogPane().setContent(content());
        dialog.getDialogPane().setPrefWidth(660);
        dialog.setResizable(true);
    }

    /** Opens the dialog; the window stays usable. */
    public static void open(StudyFile study, Window owner) {
        var made = new ExportDialog(study, owner);
        made.dialog.initModality(javafx.stage.Modality.NONE);
        made.dialog.show();
    }

    private VBox content() {
        var box = new VBox(10);
        box.setPadding(new javafx.geometry.Insets(16, 18, 6, 18));
        var heading = new Label("What is to be written?");
        heading.getStyleClass().add("section-heading");
        box.getChildren().add(heading);
        for (What what : What.values()) {
            var choice = new CheckBox(what.title);
            choice.setId("export-" + what.name().toLowerCase(java.util.Locale.ROOT));
            choice.setSelected(what == What.HTML || what == What.RECORD);
            choice.selectedProperty().addListener((_, _, _) -> allow());
            choices.put(what, choice);
            var words = new Label(what.explained);
            words.getStyleClass().add("muted");
            words.setWrapText(true);
            words.setMinHeight(Region.USE_PREF_SIZE);
            words.setPadding(new javafx.geometry.Insets(0, 0, 0, 28));
            box.getChildren().add(new VBox(2, choice, words));
        }
        folder.setId("export-folder");
        folder.setText("report");
        folder.setPromptText("a folder, seen from the study's");
        folder.setAccessibleText("folder to write into, seen from the study's");
        folder.textProperty().addListener((_, _, _) -> allow());
        HBox.setHgrow(folder, Priority.ALWAYS);
        var browse = new Button("Choose…");
        browse.setMinWidth(Region.USE_PREF_SIZE);
        browse.setOnAction(_ -> browse());
        write.setId("export-write");
        write.getStyleClass().add("accent");
        write.setMinWidth(Region.USE_PREF_SIZE);
        write.setOnAction(_ -> write());
        var into = new Label("Into");
        into.setMinWidth(Region.USE_PREF_SIZE);
        var row = new HBox(8, into, folder, browse, write);
        row.setAlignment(Pos.CENTER_LEFT);
        told.setId("export-told");
        told.setWrapText(true);
        told.setMinHeight(Region.USE_PREF_SIZE);
        told.managedProperty().bind(told.textProperty().isNotEmpty());
        evenSo.setId("export-even-so");
        evenSo.setVisible(false);
        evenSo.setManaged(false);
        box.getChildren().addAll(row, told, evenSo);
        return box;
    }

    private void browse() {
        var chooser = new DirectoryChooser();
        chooser.setTitle("Folder to write into");
        Path now = study.folder().toAbsolutePath();
        chooser.setInitialDirectory(Files.isDirectory(now) ? now.toFile() : null);
        File chosen = chooser.showDialog(dialog.getDialogPane().getScene().getWindow());
        if (chosen != null) {
            folder.setText(chosen.toString());
        }
    }

    private Set<What> chosen() {
        Set<What> chosen = EnumSet.noneOf(What.class);
        choices.forEach((what, choice) -> {
            if (choice.isSelected()) {
                chosen.add(what);
            }
        });
        return chosen;
    }

    private void allow() {
        write.setDisable(chosen().isEmpty() || folder.getText().isBlank());
    }

    private void tell(String text, boolean problem) {
        told.setText(text);
        told.getStyleClass().setAll("label", problem ? "problem" : "fact");
    }

    private void write() {
        Path target;
        try {
            target = study.folder().resolve(folder.getText().strip());
        } catch (InvalidPathException cause) {
            tell("This is not the name of a folder: " + cause.getMessage(), true);
            return;
        }
        Set<What> what = chosen();
        boolean withSecrets = evenSo.isSelected();
        write.setDisable(true);
        tell("Writing …", false);
        Background.AT_ONCE.run(() -> write(what, target, withSecrets), files -> written("Written: " + files.stream()
                .map(file -> target.toAbsolutePath().relativize(file.toAbsolutePath()).toString())
                .collect(Collectors.joining(", ")) + ".", false), cause -> written(why(cause), true));
    }

    private String why(Exception cause) {
        if (cause instanceof SecretsFound) {
            show(evenSo);
            return "The archive was not written: " + cause.getMessage() + ", or say below that it may.";
        }
        LOG.warn("the export was not written", cause);
        return "The export was not written: " + cause.getMessage()
                + ". The study is as it was. Choose another folder, or mend what is said.";
    }

    private void written(String words, boolean isProblem) {
        allow();
        tell(words, isProblem);
        dialog.getDialogPane().getScene().getWindow().sizeToScene();
    }

    private static void show(CheckBox box) {
        box.setVisible(true);
        box.setManaged(true);
    }

    private List<Path> write(Set<What> what, Path target, boolean withSecrets) throws IOException, StudyException {
        Results results = Results.of(study);
        Files.createDirectories(target);
        var written = new ArrayList<Path>();
        Set<ReportFiles.Kind> documents = EnumSet.noneOf(ReportFiles.Kind.class);
        what.forEach(one -> document(one).ifPresent(documents::add));
        if (!documents.isEmpty()) {
            written.addAll(ReportFiles.write(results, documents, target, Clock.systemUTC().instant()));
        }
        if (what.contains(What.DATA)) {
            DataFiles.write(results, target.resolve("data"));
            written.add(target.resolve("data"));
        }
        if (what.contains(What.ZIP)) {
            Path archive = target.resolve(study.folder().toAbsolutePath().normalize().getFileName() + ".zip");
            written.add(
                    StudyZip.pack(study.folder(), archive, Secrets.formsIn(study.folder(), study.text()), withSecrets)
                            .file());
        }
        return written;
    }

    private static Optional<ReportFiles.Kind> document(What what) {
        return switch (what) {
            case HTML -> Optional.of(ReportFiles.Kind.html);
            case PDF -> Optional.of(ReportFiles.Kind.pdf);
            case RECORD -> Optional.of(ReportFiles.Kind.record);
            case DATA, ZIP -> Optional.empty();
        };
    }
}
