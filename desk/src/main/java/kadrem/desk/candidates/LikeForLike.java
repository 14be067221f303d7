package kadrem.desk.candidates;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.GridPane;
import kadrem.core.study.MeasuredStudy;
import kadrem.files.study.Edit;

/** Where the candidates differ, and whether that is meant. */
final class LikeForLike {
    private LikeForLike() {
    }

    /** Every difference between the candidates, each marked as meant or not; what is not meant asks to be looked at. */
    static int add(GridPane grid, int from, MeasuredStudy study, Map<String, List<String>> found,
            CandidateEdits edits) {
        int row = from;
        List<String> differing = differing(study, found);
        var heading = new Label("Like for like");
        heading.getStyleClass().add("section-heading");
        grid.add(heading, 0, row++, GridPane.REMAINING, 1);
        var words = new Label(differing.isEmpty()
                ? "The candidates differ in nothing that is known."
                : "The candidates differ in these. Tick those that are meant, such as what you compare; the others may be"
                        + " the reason for a difference that you measure.");
        words.setWrapText(true);
        words.getStyleClass().add("muted");
        grid.add(words, 0, row++, GridPane.REMAINING, 1);
        var boxes = new FlowPane(18, 6);
        for (String name : differing) {
            var box = new CheckBox(name);
            box.setMnemonicParsing(false);
            box.setId("intended-" + name.replace(' ', '-'));
            box.setSelected(study.intended().contains(name));
            box.setOnAction(_ -> {
                var intended = new ArrayList<>(study.intended());
                if (box.isSelected()) {
                    intended.add(name);
                } else {
                    intended.remove(name);
                }
                edits.edit(
                        List.of(new Edit.Put("", Map.of("intendedDifferences", Optional.of(List.copyOf(intended))))));
            });
            boxes.getChildren().add(box);
        }
        grid.add(boxes, 0, row, GridPane.REMAINING, 1);
        return row + 1;
    }

    /** Names of the attributes in which the candidates differ; their names and ports do so in every study. */
    private static List<String> differing(MeasuredStudy study, Map<String, List<String>> found) {
        var names = new ArrayList<String>();
        for (Attribute attribute : Attribute.ALL) {
            boolean own = attribute.name().equals("name") || attribute.name().equals("address");
            if (!own && study.candidates().stream().map(attribute.text()).distinct().count() > 1) {
                names.add(attribute.name());
            }
        }
        found.forEach((name, values) -> {
            if (values.stream().distinct().count() > 1 && !names.contains(name)) {
                names.add(name);
            }
        });
        return names;
    }
}
