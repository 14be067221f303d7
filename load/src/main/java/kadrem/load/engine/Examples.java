package kadrem.load.engine;

import java.util.Comparator;
import java.util.List;
import java.util.PriorityQueue;
import java.util.function.IntFunction;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Call;

/** Chooses the exchanges that a run keeps: the first failures of each kind and call, and each call's slowest. Confined. */
final class Examples {
    private static final int FAILURES_OF_A_KIND = 5;
    private static final int SLOWEST = 5;

    private final List<Call> calls;
    private final Recorder recorder;
    private final IntFunction<String> words;
    private final List<Integer> credentials;
    private final int[][] failures;
    private final List<PriorityQueue<Exchange>> slowest;
    /** Response time that a call must exceed to be among the slowest; kept apart so that the usual case is one compare. */
    private final long[] threshold;

    /**
     * @param credentials numbers of captured values that are nobody else's
     * @param words the words for statuses of answers
     */
    Examples(List<Call> calls, List<Integer> credentials, Recorder recorder, IntFunction<String> words) {
        this.words = words;
        this.credentials = credentials;
        this.calls = calls;
        this.recorder = recorder;
        failures = new int[calls.size()][FailureKind.values().length];
        slowest = calls.stream()
                .map(_ -> new PriorityQueue<Exchange>(Comparator.comparingLong(Exchange::responseNanos))).toList();
        threshold = new long[calls.size()];
    }

    boolean isAmongSlowest(int call, long responseNanos) {
        return responseNanos > threshold[call];
    }

    void keepSlow(Seat seat, long responseNanos, long serviceNanos, int status, long startNanos) {
        PriorityQueue<Exchange> kept = slowest.get(seat.call());
        kept.add(exchange(seat, Exchange.SLOW, "", responseNanos, serviceNanos, status, startNanos));
        if (kept.size() > SLOWEST) {
            kept.poll();
            threshold[seat.call()] = kept.element().responseNanos();
        }
    }

    void keepFailure(Seat seat, FailureKind kind, String detail, long now, int status, long startNanos) {
        if (failures[seat.call()][kind.ordinal()]++ < FAILURES_OF_A_KIND) {
            recorder.deliver(
                    exchange(seat, kind.id(), detail, now - seat.dueNanos, now - seat.sentNanos, status, startNanos));
        }
    }

    void deliverSlowest() {
        slowest.forEach(kept -> kept.stream().sorted(Comparator.comparingLong(Exchange::responseNanos).reversed())
                .forEach(recorder::deliver));
    }

    private String word(int status) {
        String word = words.apply(status);
        return word.equals(Integer.toString(status)) ? "" : word;
    }

    private Exchange exchange(Seat seat, String reason, String detail, long response, long service, int status,
            long startNanos) {
        return new Exchange(calls.get(seat.call()).name(), reason, detail, (seat.dueNanos - startNanos) / 1e9, response,
                service,
                status, shown(seat, seat.carrier().requestText(seat.call(), seat.values)),
                shown(seat, seat.carrier().responseText()),
                status == 0 || status == 1 ? "" : word(status))
                .withoutSecrets();
    }

    private String shown(Seat seat, String text) {
        return credentials.isEmpty() ? text : RehearsedCall.hidden(text, seat.values.captured(credentials));
    }
}
