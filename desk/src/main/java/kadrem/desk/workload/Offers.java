package kadrem.desk.workload;

import java.util.List;
import java.util.function.Consumer;

import kadrem.core.study.Candidate;
import kadrem.core.study.Protocol;
import kadrem.core.study.grammar.Field;
import kadrem.desk.Session;
import kadrem.desk.look.Background;
import kadrem.load.campaign.Control;
import kadrem.load.drive.Offer;

/** What a candidate offers for a field of a call, such as the topics that a broker has. */
final class Offers {
    private Offers() {
    }

    /**
     * Asks the first candidate of the protocol that tells.
     *
     * @param told given what it offers
     * @param nothing told why nothing is offered
     */
    static void ask(Session.State state, Protocol protocol, Field field, Consumer<List<Offer>> told,
            Consumer<String> nothing) {
        List<Candidate> asked = state.study().candidates().stream()
                .filter(one -> one.address().protocol().equals(protocol.id()))
                .toList();
        record Answered(List<Offer> offers, boolean waits) {
        }
        Background.AT_ONCE.run(() -> {
            var control = Control.ofUser(state.file().folder(), state.measured().workload());
            return new Answered(asked.stream().map(one -> control.offers(one, field.name()))
                    .filter(offers -> !offers.isEmpty()).findFirst().orElse(List.of()),
                    asked.stream().anyMatch(one -> !control.mayAsk(one)));
        }, answered -> {
            if (answered.offers().isEmpty()) {
                nothing.accept(answered.waits()
                        ? "What this study would do waits for your word; read it at Candidates."
                        : "No candidate that is up tells its " + field.words() + "; launch one at Candidates.");
            } else {
                told.accept(answered.offers());
            }
        }, cause -> nothing.accept(String.valueOf(cause.getMessage())));
    }
}
