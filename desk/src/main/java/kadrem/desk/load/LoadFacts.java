package kadrem.desk.load;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.VBox;
import kadrem.core.measure.Capacity;
import kadrem.core.plan.Look;
import kadrem.core.plan.Rounds;
import kadrem.core.scaling.Prediction;
import kadrem.core.study.Candidate;
import kadrem.core.study.Crowd;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Written;
import kadrem.desk.Session;
import kadrem.load.drive.Drivers;
import kadrem.load.engine.LoadOrder;
import kadrem.load.generator.GeneratorProcess;

/** What a load is going to send, in sentences, and what speaks against it. */
final class LoadFacts {
    private final VBox view = new VBox(5);

    Node view() {
        return view;
    }

    /** @param capacity what a self-check found out about this machine and workload */
    void show(Session.State state, Optional<Capacity> capacity) {
        MeasuredStudy study = state.measured();
        Prediction prediction = Prediction.of(study, state.presentRehearsal());
        view.getChildren().clear();
        sent(study, prediction);
        prediction.candidates().forEach(one -> candidate(study, one));
        prediction.weakPercentiles(study).forEach(warning -> problem(warning, "weak-percentile"));
        plan(study, prediction);
        generator(study);
        capacity.ifPresent(known -> {
            fact(known.sentence(), "capacity");
            double asked = Math.max(prediction.mostCallsPerSecond().orElse(0), prediction.candidates().stream()
                    .mapToDouble(one -> one.calls() / study.load().measured().toSeconds()).max().orElse(0));
            known.objection(asked, study.candidates().stream().anyMatch(Candidate::isHere))
                    .ifPresent(objection -> problem(objection, "capacity-objection"));
        });
        state.file().warnings().forEach(warning -> problem(warning.toString(), ""));
        int others = state.runs().size() - state.presentRuns().size();
        if (others > 0) {
            problem(others + (others == 1 ? " run was" : " runs were")
                    + " made with another workload or load. They are kept, and stay out of the comparison until these"
                    + " figures are as they were (Undo).", "other-load");
        }
    }

    private void sent(MeasuredStudy study, Prediction prediction) {
        if (study.load().course().search().isPresent()) {
            fact("Each level is a result of its own; how many calls they make shows in the first run.", "");
            return;
        }
        boolean bound = study.load().crowds().stream().allMatch(one -> one.load() instanceof LoadProfile.Closed);
        String about = bound ? "at most " : "";
        var words = new StringBuilder();
        prediction.userSeconds()
                .ifPresent(area -> words.append(number(area)).append(" user-seconds in the measured part"));
        prediction.arrivals().ifPresent(visits -> words.append(words.isEmpty() ? "" : ", ").append(number(visits))
                .append(bound ? " visits by their pace" : " arrivals in the measured part"));
        prediction.callsPerRun().ifPresent(calls -> words.append(", ").append(about).append(number(calls))
                .append(" calls"));
        prediction.mostCallsPerSecond().ifPresent(rate -> words.append(", ").append(about)
                .append(Written.significant(rate)).append(bound ? " calls/s" : " calls/s at the peak"));
        fact(words + ".", "sent");
        if (bound && prediction.mostCallsPerSecond().isPresent()) {
            fact("That is users divided by the time between their visits: no candidate, however fast, can be asked"
                    + " more often.", "");
        } else if (bound) {
            fact("Users without think time call as fast as the candidate answers; how often shows in the rehearsal's"
                    + " times, or in the first run.", "");
        }
    }

    private void candidate(MeasuredStudy study, Prediction.OfCandidate one) {
        String name = study.candidate(one.candidate()).map(known -> known.name()).orElse(one.candidate());
        List<LoadProfile.Single> loads = study.load().crowds().stream().map(Crowd::load).toList();
        boolean open = loads.stream().allMatch(LoadProfile.Open.class::isInstance);
        fact(String.format(Locale.ROOT, "%s, at the %s a call that the rehearsal took: about %s calls, %s%s.", name,
                Written.duration(one.meanCallSeconds() * 1e9), number(one.calls()), Written.bytes(one.bytes()),
                open
                        ? String.format(Locale.ROOT, ", about %s visits under way at the peak (Little's law)",
                                Written.significant(Math.max(0.01, one.mostUnderWay())))
                        : ""),
                "predicted-" + one.candidate());
        if (loads.size() == 1 && loads.getFirst() instanceof LoadProfile.Open arrivals
                && one.mostUnderWay() > arrivals.connectionLimit()) {
            problem("That is more than the " + arrivals.connectionLimit() + " connections that there may be: arrivals"
                    + " would wait for one. Allow at least " + (long) Math.ceil(one.mostUnderWay() * 1.5) + ".", "");
        }
    }

    private void plan(MeasuredStudy study, Prediction prediction) {
        String together = study.plan().together() ? ", all candidates of a round at once" : "";
        boolean search = study.load().course().search().isPresent();
        fact(String.format(Locale.ROOT, "%d runs: %d candidates × %d rounds%s, %s%s without launching",
                prediction.runs(), study.candidates().size(), study.plan().rounds(), together,
                search ? "at most " : "about ", Written.time(prediction.wallTime())), "");
        int items = study.items();
        int needed = Rounds.neededToSettle(items, Look.ofEnd(study.question().significance()));
        fact(items + (items == 1 ? " thing is" : " things are")
                + " to be shown together (pairs on deciding metrics, and"
                + " requirements); fewer than " + needed + " rounds could not settle any of them at "
                + Written.significant((1 - study.question().significance()) * 100) + " %", "");
    }

    /** How it would be made on this host. */
    private void generator(MeasuredStudy study) {
        Map<Boolean, List<Candidate>> byThreads = study.candidates().stream()
                .collect(Collectors.partitioningBy(one -> Drivers.waitsOnThreads(one.address())));
        boolean both = byThreads.values().stream().noneMatch(List::isEmpty);
        byThreads.forEach((waits, candidates) -> {
            // a study without candidates yet is one of HTTP
            if (!candidates.isEmpty() || study.candidates().isEmpty() && !waits) {
                fact((both
                        ? "For " + candidates.stream().map(Candidate::name).collect(Collectors.joining(", ")) + " it is"
                        : "It is") + " made by "
                        + GeneratorProcess.arrangement(LoadOrder.defaultLanes(), study.plan().pacing(),
                                study.processorsOfCandidates(), waits)
                        + ".", "arrangement");
            }
        });
    }

    private static String number(double value) {
        return String.format(Locale.ROOT, "%,.0f", value);
    }

    private void fact(String text, String id) {
        add(text, id, "fact");
    }

    private void problem(String text, String id) {
        add(text, id, "problem");
    }

    private void add(String text, String id, String style) {
        var label = new Label(text);
        label.setWrapText(true);
        label.getStyleClass().add(style);
        if (!id.isEmpty()) {
            label.setId(id);
        }
        view.getChildren().add(label);
    }
}
