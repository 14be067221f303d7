package kadrem.desk.verdict;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Slider;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import kadrem.core.study.Factor;
import kadrem.core.study.Question;
import kadrem.core.study.Study;
import kadrem.core.verdict.Criterion;
import kadrem.core.verdict.Explanation;
import kadrem.core.verdict.Preference;
import kadrem.core.verdict.Verdict;
import kadrem.desk.Session;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.why.WhyDrawer;
import kadrem.figures.Mark;
import kadrem.files.study.Edit;

/** Weights to move, and the ranking under them with its certainty. */
final class RankingPane {
    private static final double MAX_WEIGHT = 10;
    private static final double BAR_WIDTH = 120;

    private final Consumer<Explanation> why;
    private final Consumer<List<Edit>> edit;
    private final VBox weights = new VBox(5);
    private final GridPane places = new GridPane();
    private final List<Slider> sliders = new ArrayList<>();
    private Optional<Session.State> shown = Optional.empty();

    /** @param edit changes the study */
    RankingPane(Consumer<Explanation> why, Consumer<List<Edit>> edit) {
        this.why = why;
        this.edit = edit;
        places.getStyleClass().add("verdict-grid");
        places.setId("ranking");
        weights.setId("weights");
    }

    VBox weights() {
        return weights;
    }

    GridPane places() {
        return places;
    }

    void show(Session.State state) {
        shown = Optional.of(state);
        fillWeights(state.study(), state.verdict());
        rank();
    }

    private void fillWeights(Study study, Verdict verdict) {
        weights.getChildren().clear();
        sliders.clear();
        if (verdict.preference().isEmpty()) {
            weights.getChildren()
                    .add(VerdictStation
                            .words("There is nothing to weigh: it takes two candidates that miss no requirement, and a"
                                    + " round in which all of them have a sound run.", "muted"));
            return;
        }
        List<Criterion> criteria = verdict.preference().get().criteria();
        for (Criterion criterion : criteria) {
            double most = Math.max(MAX_WEIGHT, criterion.weight());
            var slider = new Slider(0, most, criterion.weight());
            slider.setId("weight-" + criterion.name().replace(' ', '-'));
            slider.setAccessibleText("weight of " + criterion.name());
            slider.setPrefWidth(170);
            slider.setBlockIncrement(1);
            sliders.add(slider);
            var share = VerdictStation.words("", "level-figure");
            share.setMinWidth(54);
            var name = VerdictStation.words(criterion.name(), "fact");
            name.setPrefWidth(190);
            var row = new HBox(8, name, slider, share);
            row.setAlignment(Pos.CENTER_LEFT);
            row.setUserData(share);
            weights.getChildren().add(row);
            slider.valueProperty().addListener((_, _, _) -> rank());
            slider.valueChangingProperty().addListener((_, _, changing) -> {
                if (!changing) {
                    keep(study, criterion, slider.getValue());
                }
            });
            slider.setOnKeyReleased(_ -> keep(study, criterion, slider.getValue()));
        }
        List<String> unknown = Preference.criteria(study).stream().map(Criterion::name)
                .filter(name -> criteria.stream().noneMatch(one -> one.name().equals(name))).toList();
        if (!unknown.isEmpty()) {
            weights.getChildren().add(VerdictStation.words("Not weighed, as it is not known of every candidate: "
                    + String.join(", ", unknown) + ".", "muted"));
        }
    }

    /** Writes a weight that was moved into the study. */
    private void keep(Study study, Criterion criterion, double moved) {
        double weight = Math.round(moved * 10) / 10.0;
        if (weight == criterion.weight()) {
            return;
        }
        List<Question.Decider> deciders = study.question().deciders();
        List<Factor> factors = study.question().factors();
        for (int i = 0; i < deciders.size(); i++) {
            if (criterion.metric().filter(deciders.get(i).metric()::equals).isPresent()) {
                edit.accept(List.of(new Edit.Put("question.decide[" + i + "]", Map.of("weight", Optional.of(weight)))));
            }
        }
        for (int i = 0; i < factors.size(); i++) {
            if (criterion.factor().filter(factors.get(i)::equals).isPresent()) {
                edit.accept(List.of(new Edit.Put("question.judge[" + i + "]", Map.of("weight", Optional.of(weight)))));
            }
        }
    }

    /** Ranks by where the sliders stand; at once, as nothing is computed anew but sums. */
    private void rank() {
        Session.State state = shown.orElseThrow();
        places.getChildren().clear();
        Optional<Preference> preference = state.verdict().preference();
        if (preference.isEmpty() || sliders.size() != preference.get().criteria().size()) {
            return;
        }
        double[] now = sliders.stream().mapToDouble(Slider::getValue).toArray();
        double sum = java.util.Arrays.stream(now).sum();
        for (int i = 0; i < now.length; i++) {
            if (weights.getChildren().get(i).getUserData() instanceof Label share) {
                share.setText(
                        String.format(Locale.ROOT, "%.0f %%", 100 * (sum == 0 ? 1.0 / now.length : now[i] / sum)));
            }
        }
        List<String> heads = List.of("", "worth", "first in resampled rounds",
                now.length > 1 ? "first of all weights" : "");
        for (int i = 0; i < heads.size(); i++) {
            places.add(VerdictStation.words(heads.get(i), "attribute"), i, 0);
        }
        int row = 1;
        for (Preference.Place place : preference.get().rank(now)) {
            int index = state.study().indexOf(place.candidate());
            Button name = WhyDrawer.link(row + ".  " + new CandidateMark(index).letter() + "  " + place.candidate(),
                    () -> Explanation.of(state.study(), preference.get(), now, place), why);
            name.setGraphic(new CandidateMark(index).marker(6));
            name.setWrapText(false);
            name.setMinWidth(Region.USE_PREF_SIZE);
            name.setId("rank-" + place.candidate());
            places.add(name, 0, row);
            places.add(bar(index, place.worth(), String.format(Locale.ROOT, "%.2f%s", place.worth(),
                    (state.verdict().qualified().contains(place.candidate()) ? "" : " ?")
                            + (place.unbeaten() ? " unbeaten" : ""))),
                    1, row);
            places.add(bar(index, place.shareOfResamples(), percent(place.shareOfResamples())), 2, row);
            if (now.length > 1) {
                places.add(bar(index, place.shareOfWeights(), percent(place.shareOfWeights())), 3, row);
            }
            row++;
        }
        if (state.verdict().qualified().size() < row - 1) {
            places.add(key(), 0, row, heads.size(), 1);
        }
    }

    /** The key to the mark of those that are not shown to meet every requirement. */
    private Node key() {
        return VerdictStation.words("? not shown to meet every requirement, so not to be chosen yet", "muted");
    }

    private static String percent(double share) {
        return String.format(Locale.ROOT, share > 0 && share < 1 ? "%.1f %%" : "%.0f %%", share * 100);
    }

    private static Node bar(int candidate, double share, String text) {
        var bar = new Region();
        bar.setPrefSize(Math.max(1, BAR_WIDTH * share), 9);
        bar.setMaxSize(Math.max(1, BAR_WIDTH * share), 9);
        bar.setStyle("-fx-background-color: " + String.format(Locale.ROOT, "#%06X",
                new Mark(candidate).awtColour().getRGB() & 0xFFFFFF) + ";");
        var box = new VBox(1, VerdictStation.words(text, "level-figure"), bar);
        box.setMinWidth(BAR_WIDTH);
        return box;
    }
}
