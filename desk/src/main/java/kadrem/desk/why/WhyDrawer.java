package kadrem.desk.why;

import java.util.function.Consumer;
import java.util.function.Supplier;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.verdict.Explanation;

/** The drawer at the right in which a figure explains itself. */
public final class WhyDrawer {
    private static final double WIDTH = 340;

    private final Label title = new Label();
    private final VBox parts = new VBox(4);
    private final VBox view;

    /** @param close told when it is to go away */
    public WhyDrawer(Runnable close) {
        title.getStyleClass().add("section-heading");
        title.setWrapText(true);
        title.setId("why-title");
        title.setMinHeight(Region.USE_PREF_SIZE);
        HBox.setHgrow(title, Priority.ALWAYS);
        title.setMaxWidth(Double.MAX_VALUE);
        var shut = new Button("✕");
        shut.getStyleClass().add("small-button");
        shut.setId("why-close");
        shut.setAccessibleText("close");
        shut.setOnAction(_ -> close.run());
        shut.setMinWidth(Region.USE_PREF_SIZE);
        var head = new HBox(8, title, shut);
        head.setAlignment(Pos.TOP_LEFT);
        var scroll = new ScrollPane(parts);
        scroll.getStyleClass().add("plain-scroll");
        scroll.setFitToWidth(true);
        VBox.setVgrow(scroll, Priority.ALWAYS);
        view = new VBox(8, head, scroll);
        view.getStyleClass().add("why-drawer");
        view.setId("why");
        view.setPrefWidth(WIDTH);
        view.setMinWidth(WIDTH);
        view.setMaxWidth(WIDTH);
    }

    public Node view() {
        return view;
    }

    public void show(Explanation explanation) {
        title.setText(explanation.title());
        parts.getChildren().clear();
        for (Explanation.Part part : explanation.parts()) {
            var heading = new Label(part.heading());
            heading.getStyleClass().add("why-heading");
            var text = new Label(part.text());
            text.setWrapText(true);
            text.setMinHeight(Region.USE_PREF_SIZE);
            text.getStyleClass().add("fact");
            parts.getChildren().addAll(heading, text);
        }
    }

    /** A figure that explains itself when it is pressed; it is underlined. */
    public static Button link(String text, Supplier<Explanation> why, Consumer<Explanation> drawer) {
        var link = new Button(text);
        link.setMnemonicParsing(false);
        link.getStyleClass().add("why-link");
        link.setWrapText(true);
        link.setAccessibleText(text + ", press to read why");
        link.setMinHeight(Region.USE_PREF_SIZE);
        link.setAlignment(Pos.CENTER_LEFT);
        link.setOnAction(_ -> drawer.accept(why.get()));
        return link;
    }
}
