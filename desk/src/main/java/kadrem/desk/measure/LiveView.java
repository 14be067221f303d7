package kadrem.desk.measure;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.BooleanSupplier;

import javafx.beans.binding.Bindings;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import kadrem.core.examine.Occurrence;
import kadrem.core.examine.Occurrences;
import kadrem.core.examine.WatchView;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.RunRecord;
import kadrem.core.measure.SecondSummary;
import kadrem.core.study.MeasuredStudy;
import kadrem.desk.Session;
import kadrem.desk.look.Background;
import kadrem.desk.look.CandidateMark;
import kadrem.desk.look.Look;
import kadrem.desk.run.RunStory;
import kadrem.desk.run.SourceMarks;
import kadrem.core.examine.Signature;
import kadrem.files.run.RunFolders;
import kadrem.files.run.RunReader;
import kadrem.files.run.RunSignatures;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** One run: the one under way while something is measured, else the one that was chosen. */
final class LiveView {
    private static final Logger LOG = LoggerFactory.getLogger(LiveView.class);
    private static final double STORY_HEIGHT = 250;
    /** The deeper look takes at most one part in so many of the time. */
    private static final long DEEPER_SHARE = 50;
    private static final double LEAST_WIDTH = 350;
    /** In a low window, where the figures want the room. */
    private static final double STORY_LEAST = 90;

    private final Label title = new Label();
    private final RunCharts charts;
    private final FlowPane sources = new FlowPane(6, 2);
    private final RunStory story;
    private final VBox view;
    private Deeper deeper = Deeper.NOTHING;
    private boolean lookingDeeper;
    private long deeperFrom = System.nanoTime();

    /** What was found in a run under way by a look that takes more than a moment. */
    private record Deeper(String run, WatchView watch, List<Occurrence> occurrences) {
        private static final Deeper NOTHING = new Deeper("", WatchView.NOTHING, List.of());
    }

    LiveView(Look look, RunStory story) {
        this.story = story;
        charts = new RunCharts(look);
        title.getStyleClass().add("section-heading");
        title.setId("run-title");
        title.setMnemonicParsing(false);
        sources.setId("live-sources");
        sources.managedProperty().bind(Bindings.isNotEmpty(sources.getChildren()));
        var scroll = new ScrollPane(story.view());
        scroll.getStyleClass().add("plain-scroll");
        scroll.setFitToWidth(true);
        scroll.setMaxHeight(STORY_HEIGHT);
        story.view().heightProperty().addListener((_, _, height) -> {
            double wanted = Math.min(STORY_HEIGHT, height.doubleValue() + 6);
            scroll.setPrefHeight(wanted);
            scroll.setMinHeight(Math.min(STORY_LEAST, wanted));
        });
        view = new VBox(6, title, charts.view(), sources, scroll);
        view.setMinWidth(LEAST_WIDTH);
    }

    VBox view() {
        return view;
    }

    /** A new measurement begins. */
    void begin() {
        deeper = Deeper.NOTHING;
    }

    void showNothing() {
        title.setGraphic(null);
        title.setText("Nothing measured yet");
        sources.getChildren().clear();
        charts.clear();
        story.say("Press Measure: each candidate is launched, warmed up, measured and stopped in turn, in a"
                + " random order inside each round.", "fact");
    }

    /** Says what is done before the first run. */
    void showStep(String words) {
        title.setGraphic(null);
        title.setText(words.isEmpty() ? "Beginning …" : words + " …");
    }

    /**
     * Shows a run on record; its seconds are read in the background.
     *
     * @param stillWanted whether it is still to be shown when they are read
     */
    void showRecord(Session.State state, RunRecord run, BooleanSupplier stillWanted) {
        sources.getChildren().clear();
        title(state.measured(), run, run.outcome().id());
        story.show(state, run);
        Path folder = new RunFolders(state.file().folder()).folder(run);
        record Read(List<SecondSummary> seconds, WatchView watch, List<Signature> signatures) {
        }
        Background.AT_ONCE.run(() -> {
            try {
                return new Read(RunReader.seconds(folder), RunReader.watch(folder),
                        RunSignatures.of(state.measured(), folder, run, state.presentRehearsal()));
            } catch (IOException | RuntimeException cause) {
                LOG.warn("the seconds of {} cannot be read", folder, cause);
                return new Read(List.of(), WatchView.NOTHING, List.of());
            }
        }, read -> {
            if (stillWanted.getAsBoolean()) {
                charts.draw(state.measured(), read.seconds(), read.watch());
                story.tell(read.signatures());
            }
        }, cause -> LOG.error("a run cannot be shown", cause));
    }

    /** Shows the run under way as it is now. */
    void showLive(MeasuredStudy study, RunRecord run, LiveRun live, LiveRun.Snapshot now) {
        boolean atLevel = study.load().course().search().isPresent() || now.seconds().isEmpty();
        title(study, run, atLevel ? now.step() + " …" : "now");
        lookDeeper(study, run, live, now.seconds());
        boolean known = deeper.run().equals(run.id());
        charts.draw(study, now.seconds(), known ? deeper.watch() : WatchView.NOTHING);
        sources.getChildren().setAll(known ? SourceMarks.of("", deeper.watch()) : List.of());
        story.say(told(study, now, known ? deeper.occurrences() : List.of()), "fact");
    }

    private void title(MeasuredStudy study, RunRecord run, String what) {
        int index = study.indexOf(run.candidate());
        String name = study.candidate(run.candidate()).map(one -> one.name()).orElse(run.candidate());
        title.setGraphic(index < 0 ? null : new CandidateMark(index).marker(6));
        title.setText("Round " + run.round() + ", " + name + ": " + what);
    }

    /** What takes more than a moment is computed beside the interface thread, and for a small part of the time only. */
    private void lookDeeper(MeasuredStudy study, RunRecord run, LiveRun live, List<SecondSummary> seconds) {
        if (lookingDeeper) {
            return;
        }
        lookingDeeper = true;
        Deeper before = deeper;
        long due = deeperFrom;
        record Found(Deeper deeper, long from) {
        }
        Background.AT_ONCE.run(() -> {
            long now = System.nanoTime();
            WatchView watch = live.watch(run.id());
            boolean anew = now >= due || !before.run().equals(run.id());
            List<Occurrence> found = seconds.isEmpty()
                    ? List.of()
                    : anew ? Occurrences.of(seconds, watch, frame(study, run)) : before.occurrences();
            return new Found(new Deeper(run.id(), watch, found),
                    anew ? now + DEEPER_SHARE * (System.nanoTime() - now) : due);
        }, found -> {
            lookingDeeper = false;
            deeperFrom = found.from();
            deeper = found.deeper();
        }, cause -> {
            lookingDeeper = false;
            LOG.error("what happened in a run cannot be told", cause);
        });
    }

    private static Occurrences.Frame frame(MeasuredStudy study, RunRecord run) {
        return new Occurrences.Frame((int) study.load().warmUp().toSeconds(),
                study.load().isSteady() && study.load().course().search().isEmpty(),
                run.identity().cores(study));
    }

    /** The state of things, what happened so far, and the newest failures. */
    private static String told(MeasuredStudy study, LiveRun.Snapshot now, List<Occurrence> occurrences) {
        var lines = new ArrayList<String>();
        lines.add(happened(study, now.seconds()));
        occurrences.forEach(one -> lines.add("• " + one.sentence() + "."));
        now.failed().forEach(one -> lines.add(String.format(Locale.ROOT, "✕ %.1f s, %s: %s%s", one.dueSeconds(),
                one.call(), one.reason(), one.detail().isEmpty() ? "" : ", " + one.detail())));
        return String.join("\n", lines);
    }

    private static String happened(MeasuredStudy study, List<SecondSummary> seconds) {
        if (seconds.isEmpty()) {
            String idle = study.plan().idle().isPositive()
                    ? " after " + study.plan().idle().toSeconds() + " s at rest"
                    : "";
            return "No load yet: it begins" + idle + ", with " + study.load().warmUp().toSeconds() + " s of warm-up.";
        }
        SecondSummary last = seconds.getLast();
        var failed = new ArrayList<String>();
        for (FailureKind kind : FailureKind.values()) {
            long count = seconds.stream().mapToLong(second -> second.failed().getOrDefault(kind, 0L)).sum();
            if (count > 0) {
                failed.add(count + " " + kind.id());
            }
        }
        boolean warm = study.load().course().search().isEmpty() && last.second() < study.load().warmUp().toSeconds();
        return (warm ? "Warming up; nothing is counted yet. " : "Measuring. ")
                + String.format(Locale.ROOT, "In the last second %,d sent, %,d good; so far %,d sent, %,d good. ",
                        last.sent(), last.good(), seconds.stream().mapToLong(SecondSummary::sent).sum(),
                        seconds.stream().mapToLong(SecondSummary::good).sum())
                + last.busy() + " calls under way, " + last.backlog() + " arrivals waiting. "
                + (failed.isEmpty() ? "No failures." : "Failed so far: " + String.join(", ", failed) + ".");
    }
}
