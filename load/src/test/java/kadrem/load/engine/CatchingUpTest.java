package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.util.List;
import java.util.TreeMap;

import kadrem.core.measure.RunFigures;
import kadrem.core.study.LoadProfile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What becomes of arrivals that are overdue, on a clock that is handed in: because of the lane, because of the candidate, and both. */
class CatchingUpTest {
    private static final long MILLI = 1_000_000;
    private static final int RATE = 200;
    private static final int SECONDS = 6;
    private static final long SERVICE = MILLI / 10;

    private static RunFigures run(int connections, boolean stalls, TreeMap<Long, Long> heldUp) {
        return run(connections, stalls, heldUp, SimulatedRun.Where.BEHIND_SLEEP).figures();
    }

    private static SimulatedRun.Outcome run(int connections, boolean stalls, TreeMap<Long, Long> heldUp,
            SimulatedRun.Where where) {
        return run(connections, stalls, SERVICE, heldUp, where);
    }

    private static SimulatedRun.Outcome run(int connections, boolean stalls, long service, TreeMap<Long, Long> heldUp,
            SimulatedRun.Where where) {
        var usual = Load.open(RATE, connections, 0, SECONDS);
        var load = new LoadProfile.Open(usual.shape(), usual.spacing(), connections, connections, usual.course());
        return SimulatedRun.of(Load.one("/x"), load, sent -> {
            long phase = sent % (1000 * MILLI);
            return stalls && phase < 300 * MILLI ? 300 * MILLI - phase : service;
        }, heldUp, where);
    }

    /** By hand: a server that stalls 0.3 s in each second; a fifth of the arrivals wait 100 ms or more, none longer than the stall. */
    private static void isTheStall(RunFigures figures) {
        assertThat(figures.good()).isEqualTo(RATE * SECONDS);
        assertThat(figures.response().max() / 1e6).isCloseTo(300, within(15.0));
        assertThat(figures.response().p90() / 1e6).as("70 % and two thirds of the stall's share").isCloseTo(200,
                within(12.0));
    }

    @Test
    void whoWaitsForTheCandidateLeavesAtOnceWhenItAnswers() {
        RunFigures figures = run(1, true, new TreeMap<>());
        isTheStall(figures);
        assertThat(figures.late().max()).isLessThan(MILLI);
    }

    /** A lane that was held up before, in or at the end of a stall is late by that, and makes no more of it. */
    @Test
    void aHoldUpBesideAStallIsNotDrawnOut() {
        var heldUp = new TreeMap<Long, Long>();
        for (long second = 1; second < SECONDS; second++) {
            for (long at : List.of(150, 297, 900)) {
                heldUp.put((second * 1000 + at) * MILLI, 3 * MILLI);
            }
        }
        RunFigures figures = run(1, true, heldUp);
        isTheStall(figures);
        assertThat(figures.raw().max() / 1e6).as("as it was, with the late part").isCloseTo(300, within(20.0));
        assertThat(figures.late().max()).isLessThan(10 * MILLI);
    }

    /** While the answers of many connections are read together, those that waited for one leave as each is free, hold-up or not. */
    @Test
    void aHoldUpAmongTheAnswersAfterAStallIsNotDrawnOut() {
        var heldUp = new TreeMap<Long, Long>();
        for (long second = 1; second < SECONDS; second++) {
            heldUp.put((second * 1000 + 300) * MILLI, 3 * MILLI);
        }
        RunFigures figures = run(8, true, heldUp, SimulatedRun.Where.BEFORE_ANSWER).figures();
        isTheStall(figures);
        assertThat(figures.raw().max() / 1e6).as("as it was, with the late part").isCloseTo(300, within(20.0));
        assertThat(figures.late().max()).isLessThan(10 * MILLI);
    }

    /** A single arrival that is overdue makes no burst, and leaves at once: it is late by the hold-up and no more. */
    @Test
    void oneThatIsOverdueIsNotPutOff() {
        // arrivals come each 5 ms, at 0, 5, 10 ...
        RunFigures figures = run(64, false, new TreeMap<>(java.util.Map.of(2003 * MILLI, 3 * MILLI)));
        assertThat(figures.late().max() / 1e6).isCloseTo(1.5, within(1.6));
    }

    /**
     * Who waits on a thread of his own saw the answer when it came: the lane's hold-up is no part of his service time, whether the answer
     * came before its end or just at it.
     */
    @ParameterizedTest
    @ValueSource(longs = {MILLI / 10, 3 * MILLI - SimulatedRun.HANDED_OVER_NANOS})
    void anAnswerThatAnotherThreadTimedIsNotShortenedByAHoldUp(long service) {
        var heldUp = new TreeMap<Long, Long>();
        for (long at = 1000; at < 4000; at += 100) {
            // between the sending of a call and its answer
            heldUp.put(at * MILLI, 3 * MILLI);
        }
        RunFigures figures = run(64, false, service, heldUp, SimulatedRun.Where.BESIDE_A_THREAD_OF_THE_USERS).figures();
        assertThat(figures.service().p50()).isCloseTo(service, within(service / 100));
        assertThat(figures.service().mean()).as("none is shorter").isGreaterThan(service * 0.999);
        assertThat(figures.response().mean()).isGreaterThan(service * 0.999);
    }

    /** Nor is it where the whole machine stood still, and both went on in the same instant. */
    @Test
    void anAnswerThatAnotherThreadTimedJustAfterAHoldUpIsNotShortenedByIt() {
        long service = 12 * MILLI;
        var heldUp = new TreeMap<Long, Long>();
        for (long at = 1010; at < 4000; at += 100) {
            // a call is due at that instant, and an answer comes as the hold-up ends, before the lane reads
            heldUp.put(at * MILLI, 2 * MILLI);
        }
        RunFigures figures = run(64, false, service, heldUp, SimulatedRun.Where.BESIDE_A_THREAD_OF_THE_USERS).figures();
        assertThat(figures.service().mean()).as("none is shorter").isGreaterThan(service * 0.999);
        assertThat(figures.response().mean()).isGreaterThan(service * 0.999);
    }

    /** An answer that came after a hold-up was over did not wait to be read, though the lane was held up while the call was under way. */
    @Test
    void anAnswerThatCameAfterAHoldUpIsNotShortenedByIt() {
        long service = 12 * MILLI;
        var heldUp = new TreeMap<Long, Long>();
        for (long at = 1005; at < 4000; at += 100) {
            // a call is due at that instant, and the next answer comes 2 ms later
            heldUp.put(at * MILLI, 3 * MILLI / 2);
        }
        RunFigures figures = run(64, false, service, heldUp, SimulatedRun.Where.BEHIND_SLEEP).figures();
        assertThat(figures.service().mean()).as("none is shorter").isGreaterThan(service * 0.999);
        assertThat(figures.late().max() / 1e6).as("of the call that was due meanwhile").isCloseTo(1.5, within(0.1));
    }

    /** A stop between reckoning a sleep and sleeping is no part of the sleep: it is counted, and nothing is slept on top of it. */
    @Test
    void aStopBeforeASleepIsAHoldUp() {
        SimulatedRun.Outcome outcome = run(64, false, new TreeMap<>(java.util.Map.of(2000 * MILLI, 21 * MILLI)),
                SimulatedRun.Where.BEFORE_SLEEP);
        assertThat(outcome.longestTurnNanos() / 1e6).isCloseTo(21, within(1.0));
        assertThat(outcome.figures().late().max() / 1e6).isBetween(15.0, 21.5);
    }

    /** After a hold-up of the lane what is overdue goes out at twice the rate, so that the candidate meets no burst of Kadrem's making. */
    @Test
    void afterAHoldUpTheOverdueLeaveAtTwiceTheRate() {
        RunFigures figures = run(64, false, new TreeMap<>(java.util.Map.of(2000 * MILLI, 400 * MILLI)));
        assertThat(figures.good()).isEqualTo(RATE * SECONDS);
        assertThat(figures.late().max() / 1e6).isCloseTo(400, within(15.0));
        assertThat(figures.response().max()).as("with the late part taken away").isLessThan(MILLI);
        // 80 are overdue, and while they leave as many come due as leave beside them: 160 of 1,200 are late
        assertThat((double) figures.late().p90() / 1e6).isGreaterThan(50);
        assertThat((double) figures.late().p50()).isLessThan(MILLI);
    }

    /** Five users with a pace of 200 ms for two seconds, the lane held up over the end: the visits that were due are made, late. */
    @Test
    void visitsThatWereDueAreMadeThoughTheLaneWasHeldUpOverTheEnd() {
        LoadProfile load = Load.closed(5, Duration.ZERO, 2).withPace(Duration.ofMillis(200));
        var heldUp = new TreeMap<>(java.util.Map.of(1750 * MILLI, 600 * MILLI));
        RunFigures figures = SimulatedRun
                .of(Load.one("/x"), load, _ -> SERVICE, heldUp, SimulatedRun.Where.BEHIND_SLEEP).figures();
        assertThat(figures.good()).isEqualTo(50);
        assertThat(figures.unsent()).isZero();
        assertThat(figures.late().max() / 1e6).as("what was late is the generator's own").isCloseTo(600, within(2.0));
    }
}
