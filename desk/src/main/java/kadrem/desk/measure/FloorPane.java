package kadrem.desk.measure;

import java.util.function.Consumer;
import java.util.stream.Collectors;

import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.VBox;
import kadrem.core.study.Candidate;
import kadrem.core.study.Metric;
import kadrem.desk.Session;
import kadrem.desk.run.RunStory;

/** The noise floor: which candidate is measured against itself, and what came of it. */
final class FloorPane {
    private final MenuButton menu = new MenuButton("Noise floor");
    private final VBox words = new VBox(3);
    private final Consumer<String> wanted;

    /** @param wanted given the id of the candidate that is to be measured against itself */
    FloorPane(Consumer<String> wanted) {
        this.wanted = wanted;
        menu.setId("noise-floor");
        menu.setTooltip(new Tooltip("Measures a candidate against itself: so much differs without a difference"));
    }

    MenuButton menu() {
        return menu;
    }

    VBox words() {
        return words;
    }

    void show(Session.State state, boolean measuring) {
        menu.setDisable(measuring || state.study().candidates().isEmpty());
        menu.getItems().setAll(state.study().candidates().stream().map(this::item).toList());
        words.getChildren().clear();
        state.floor().ifPresent(known -> {
            String name = state.study().candidate(known.candidate()).map(Candidate::name).orElse(known.candidate());
            words.getChildren().add(RunStory.words("Noise floor, " + name + " against itself over " + known.rounds()
                    + " rounds: "
                    + known.floors().stream().filter(one -> one.metric().kind() != Metric.Kind.ERROR_SHARE)
                            .map(one -> one.metric().id() + " " + one.metric().scale().words(one.size()))
                            .collect(Collectors.joining(", "))
                    + ".", "fact"));
            known.marginsBelow(state.study().question())
                    .forEach(sentence -> words.getChildren().add(RunStory.words(sentence, "problem")));
        });
    }

    private MenuItem item(Candidate candidate) {
        var item = new MenuItem(candidate.name() + " against itself");
        item.setId("floor-" + candidate.id());
        item.setOnAction(_ -> wanted.accept(candidate.id()));
        return item;
    }
}
