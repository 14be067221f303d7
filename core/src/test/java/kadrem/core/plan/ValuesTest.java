package kadrem.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.StatusSet;
import kadrem.core.study.Studies;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.ValueList;
import kadrem.core.study.ValueList.Keep;
import kadrem.core.study.ValueList.Order;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;

/** How rows are drawn, and that the digest of the load tells everything that is sent. */
class ValuesTest {
    private static Workload with(ValueList... lists) {
        return new Workload(List.of(lists), List.of(new Visit("v", 1, List.of(Call.of("a", "GET", "/a"),
                Call.of("b", "GET", "/b")))));
    }

    private static ValueList.Draw draw(Order order, Keep keep) {
        return new ValueList.Draw(order, keep);
    }

    /** Of n draws the share of number 1 is 1 / H, H the sum of 1 / i^s; within four binomial standard errors. */
    @Test
    void popularNumbersComeAsOftenAsZipfSays() {
        int size = 1000;
        double exponent = 1.1;
        var stream = new LoadStream(with(new ValueList.Zipf("z", 1, size, exponent, ValueList.Draw.USUAL)), 0, 3);
        LoadStream.Draw drawn = stream.newDraw();
        int n = 200_000;
        var counts = new int[size];
        for (int i = 0; i < n; i++) {
            stream.draw(0, i, drawn);
            counts[(int) drawn.row(0)]++;
        }
        double sum = 0;
        for (int i = 1; i <= size; i++) {
            sum += Math.pow(i, -exponent);
        }
        for (int rank : new int[]{1, 2, 10}) {
            double share = Math.pow(rank, -exponent) / sum;
            assertThat((double) counts[rank - 1] / n).as("number %d", rank).isCloseTo(share,
                    within(4 * Math.sqrt(share * (1 - share) / n)));
        }
    }

    @Test
    void ordersAndKeepsAreKept() {
        var stream = new LoadStream(with(
                new ValueList.Listed("s", "", "", List.of("a", "b", "c"), draw(Order.SEQUENTIAL, Keep.VISIT)),
                new ValueList.Listed("u", "", "", List.of("a", "b", "c"), draw(Order.PER_USER, Keep.VISIT)),
                new ValueList.NumberRange("c", 0, 1_000_000, draw(Order.RANDOM, Keep.CALL)),
                new ValueList.NumberRange("v", 0, 1_000_000)), 4, 9);
        LoadStream.Draw drawn = stream.newDraw();
        for (int user = 0; user < 4; user++) {
            for (int index = 0; index < 5; index++) {
                stream.draw(user, index, drawn);
                assertThat(drawn.row(0)).isEqualTo((user + 4 * index) % 3);
                assertThat(drawn.row(1)).isEqualTo(user % 3);
                stream.drawCall(0, drawn);
                long first = drawn.row(2);
                long kept = drawn.row(3);
                stream.drawCall(1, drawn);
                assertThat(drawn.row(2)).isNotEqualTo(first);
                assertThat(drawn.row(3)).isEqualTo(kept);
            }
        }
    }

    @Test
    void inTheOpenModelArrivalsAreVisitsOfAFixedNumberOfUsersInTurn() {
        var list = new ValueList.NumberRange("u", 0, 99, draw(Order.PER_USER, Keep.VISIT));
        var load = new LoadProfile.Open(1, LoadProfile.Spacing.CONSTANT, 40, Duration.ZERO, Duration.ofSeconds(1),
                Duration.ofSeconds(1));
        LoadStream stream = LoadStream.of(with(list), load, 1);
        LoadStream.Draw drawn = stream.newDraw();
        for (int arrival = 0; arrival < 150; arrival++) {
            stream.draw(0, arrival, drawn);
            assertThat(drawn.row(0)).isEqualTo(arrival % 40);
        }
    }

    @Test
    void madeValuesHaveTheirForm() {
        var uuid = new ValueList.Uuid("u", ValueList.Draw.USUAL);
        var text = new ValueList.Text("t", 8, ValueList.Draw.USUAL);
        Set<String> seen = new HashSet<>();
        for (long row = 0; row < 1000; row++) {
            assertThat(java.util.UUID.fromString(uuid.text(row)).version()).isEqualTo(4);
            assertThat(java.util.UUID.fromString(uuid.text(row)).variant()).isEqualTo(2);
            assertThat(text.text(row)).matches("[a-z]{8}");
            seen.add(uuid.text(row));
            seen.add(text.text(row));
        }
        assertThat(seen).hasSize(2000);
        var time = new ValueList.Timestamp("i", Instant.parse("2026-07-01T00:00:00Z"),
                Instant.parse("2026-07-01T00:01:00Z"), false, ValueList.Draw.USUAL);
        assertThat(time.size()).isEqualTo(61);
        assertThat(time.text(60)).isEqualTo("2026-07-01T00:01:00Z");
    }

    @Test
    void pausesAreFixedByTheSeed() {
        var think = new ThinkTime.Exponential(Duration.ofSeconds(1));
        var stream = new LoadStream(with(), 2, 5);
        LoadStream.Draw one = stream.newDraw();
        LoadStream.Draw other = new LoadStream(with(), 2, 5).newDraw();
        stream.draw(1, 7, one);
        stream.draw(1, 7, other);
        assertThat(stream.thinkNanos(think, 0, one)).isEqualTo(stream.thinkNanos(think, 0, other))
                .isNotEqualTo(stream.thinkNanos(think, 1, one));
    }

    private static MeasuredStudy study(Call call) {
        MeasuredStudy plain = Studies.two();
        return new MeasuredStudy(plain.name(), plain.question(), plain.candidates(),
                new Workload(List.of(), List.of(new Visit("v", 1, List.of(call)))), plain.load(), plain.plan());
    }

    /** Whatever changes what is sent or what counts as good changes the digest. */
    @Test
    void theDigestTellsEveryChange() {
        Call call = Call.of("a", "GET", "/a");
        List<Call> changed = List.of(call, call.withBody("x"), call.withBody(new Body.Form(List.of())),
                call.withHeaders(List.of(new Call.Header("A", "b"))), call.expecting(StatusSet.of(200)),
                call.expecting(new Expectations(StatusSet.ANY_SUCCESS, Optional.of(Duration.ofSeconds(1)), List.of())),
                call.expecting(new Expectations(StatusSet.ANY_SUCCESS, Optional.empty(),
                        List.of(new Expectations.Expectation.BodyHolds("x")))),
                call.capturing(new Capture("t", new Capture.Source.Json("$.t"))),
                call.thinking(new ThinkTime.Fixed(Duration.ofSeconds(1))));
        Set<String> digests = new HashSet<>();
        changed.forEach(one -> digests.add(LoadDigest.of(study(one))));
        assertThat(digests).hasSize(changed.size());
        assertThat(LoadDigest.of(study(Call.of("a", "GET", "/a")))).isEqualTo(LoadDigest.of(study(call)));
    }
}
