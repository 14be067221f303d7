package kadrem.core.check;

import java.util.List;

import kadrem.core.plan.Look;
import kadrem.core.plan.Rounds;
import kadrem.core.study.MeasuredStudy;

/** The plan against the candidates and the question. */
final class PlanCheck {
    private PlanCheck() {
    }

    static void check(MeasuredStudy study, Findings findings) {
        List<String> hosts = study.candidates().stream().map(one -> one.address().host()).toList();
        if (study.plan().together() && hosts.stream().distinct().count() < hosts.size()) {
            findings.warning("plan.order", "is together, but candidates share a host",
                    "Each takes processor time from the other; use in-turn, or put them on separate hosts.");
        }
        int items = study.items();
        int needed = Rounds.neededToSettle(items, Look.ofEnd(study.question().significance()));
        if (items > 0 && !study.plan().isAdaptive() && study.plan().rounds() < needed) {
            findings.warning("plan.rounds",
                    "is " + study.plan().rounds() + ", which cannot settle anything: " + items
                            + (items == 1 ? " thing" : " things") + " to be shown at a significance of "
                            + study.question().significance() + " need " + needed + " rounds",
                    "Plan at least " + needed + " rounds, or decide on fewer metrics.");
        }
    }
}
