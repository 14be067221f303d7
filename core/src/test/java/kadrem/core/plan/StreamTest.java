package kadrem.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import java.util.stream.IntStream;
import java.util.stream.LongStream;

import kadrem.core.random.SplitMix64;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;

class StreamTest {
    private static final Workload WORKLOAD = new Workload(List.of(new ValueList.NumberRange("berth", 1, 10)),
            List.of(visit("look", 3), visit("book", 1)));

    private static Visit visit(String name, double share) {
        return new Visit(name, share, List.of(
                kadrem.core.study.Call.of(name, "GET", "/" + name)));
    }

    /** java.util.SplittableRandom is the reference: its numbers are mix(seed + n · gamma) for a seeded generator. */
    @Test
    void splitMixGivesTheNumbersOfTheJdk() {
        var reference = new SplittableRandom(42);
        for (int n = 1; n <= 100; n++) {
            assertThat(SplitMix64.mix(42 + n * SplitMix64.GAMMA)).isEqualTo(reference.nextLong());
        }
    }

    private static long fnv1a(byte[] bytes) {
        long hash = 0xcbf29ce484222325L;
        for (byte b : bytes) {
            hash = (hash ^ (b & 0xff)) * 0x100000001b3L;
        }
        return hash;
    }

    /** Test vectors of the FNV reference (draft-eastlake-fnv, appendix C): "a" and "foobar" for 64-bit FNV-1a. */
    @Test
    void theStreamHashIsFnv1aOverLittleEndianNumbers() {
        assertThat(fnv1a("a".getBytes(StandardCharsets.US_ASCII))).isEqualTo(0xaf63dc4c8601ec8cL);
        assertThat(fnv1a("foobar".getBytes(StandardCharsets.US_ASCII))).isEqualTo(0x85944171f73967e8L);
        for (long number : new long[]{0, 1, -1, 0x0123456789abcdefL, Long.MIN_VALUE}) {
            byte[] bytes = ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN).putLong(number).array();
            assertThat(StreamHash.with(StreamHash.START, number)).isEqualTo(fnv1a(bytes));
        }
    }

    @Test
    void sameSeedSameVisitsInAnyOrderOfAsking() {
        var one = new LoadStream(WORKLOAD, 0, 7);
        var other = new LoadStream(WORKLOAD, 0, 7);
        LoadStream.Draw a = one.newDraw();
        LoadStream.Draw b = other.newDraw();
        other.draw(3, 99, b);
        for (int index = 0; index < 50; index++) {
            one.draw(3, index, a);
            other.draw(3, index, b);
            assertThat(b.visit()).isEqualTo(a.visit());
            assertThat(b.row(0)).isEqualTo(a.row(0));
        }
    }

    /** 40,000 draws: a share of 3/4 has a standard error of 0.22 %, a value of 1/10 one of 0.15 %; four are allowed. */
    @Test
    void visitsComeByTheirSharesAndValuesUniformly() {
        var stream = new LoadStream(WORKLOAD, 0, 20260701);
        LoadStream.Draw draw = stream.newDraw();
        int n = 40_000;
        var visits = new int[2];
        var rows = new int[10];
        for (int i = 0; i < n; i++) {
            stream.draw(0, i, draw);
            visits[draw.visit()]++;
            rows[(int) draw.row(0)]++;
        }
        assertThat((double) visits[0] / n).isCloseTo(0.75, within(0.0088));
        for (int count : rows) {
            assertThat((double) count / n).isCloseTo(0.1, within(0.006));
        }
    }

    private static StreamDigest closed(long seed, int users, int... visits) {
        var stream = new LoadStream(WORKLOAD, 0, seed);
        var digests = new ArrayList<UserDigest>();
        for (int user = 0; user < users; user++) {
            var digest = new UserDigest(user);
            LoadStream.Draw draw = stream.newDraw();
            for (int visit = 0; visit < visits[user % visits.length]; visit++) {
                stream.draw(user, visit, draw);
                digest.add(draw);
            }
            digests.add(digest);
        }
        return UserDigest.combine(digests);
    }

    @Test
    void closedStreamsAreComparedOverTheirCommonPart() {
        StreamDigest slow = closed(5, 4, 100, 104);
        StreamDigest fast = closed(5, 4, 900, 870);
        assertThat(slow.match(fast)).isEqualTo(StreamDigest.Match.SAME);
        assertThat(slow.match(closed(6, 4, 900, 870))).isEqualTo(StreamDigest.Match.DIFFERENT);
        assertThat(slow.match(closed(5, 4, 0, 9))).isEqualTo(StreamDigest.Match.NOTHING_IN_COMMON);
        assertThat(slow.parts().getLast().length()).as("at least four fifths are compared").isBetween(80L, 100L);
    }

    @Test
    void openStreamsMustBeWhollyTheSame() {
        var one = new StreamDigest(StreamDigest.Model.OPEN, List.of(new StreamDigest.Part(10, 1)));
        var other = new StreamDigest(StreamDigest.Model.OPEN, List.of(new StreamDigest.Part(10, 2)));
        assertThat(one.match(one)).isEqualTo(StreamDigest.Match.SAME);
        assertThat(one.match(other)).isEqualTo(StreamDigest.Match.DIFFERENT);
        assertThat(one.match(closed(5, 2, 10))).isEqualTo(StreamDigest.Match.DIFFERENT);
    }

    static LoadProfile.Open open(double rate, LoadProfile.Spacing spacing, int warmUp, int measured) {
        return new LoadProfile.Open(rate, spacing, 64, Duration.ofSeconds(warmUp), Duration.ofSeconds(measured),
                Duration.ofSeconds(5));
    }

    /** Common practice, no source: 60 arrivals/s for 30 s are 1,800 visits, with 4 calls each 7,200 calls. */
    @Test
    void constantArrivalsAreRateTimesTime() {
        Arrivals arrivals = Arrivals.of(open(60, LoadProfile.Spacing.CONSTANT, 0, 30), 1);
        assertThat(arrivals.count() * 4).isEqualTo(7200);
        assertThat(Arrivals.of(open(0.5, LoadProfile.Spacing.CONSTANT, 0, 3), 1).count()).isEqualTo(2);
        for (long nanos : new long[]{0, 1, 16_666_666, 16_666_667, 999_999_999, 1_000_000_000, 30_000_000_000L}) {
            long counted = LongStream.range(0, arrivals.count()).filter(i -> arrivals.dueNanos(i) < nanos).count();
            assertThat(arrivals.dueBefore(nanos)).as("due before %d ns", nanos).isEqualTo(counted);
        }
    }

    /**
     * Gaps of a Poisson process are exponential: the Kolmogorov–Smirnov distance of n gaps exceeds 1.36 / √n with
     * probability 5 % (Smirnov 1948, asymptotic table); at this seed it does not.
     */
    @Test
    void poissonArrivalsHaveExponentialGaps() {
        double rate = 200;
        Arrivals arrivals = Arrivals.of(open(rate, LoadProfile.Spacing.POISSON, 0, 30), 4711);
        int n = (int) arrivals.count() - 1;
        assertThat((double) n).isCloseTo(6000, within(4 * Math.sqrt(6000)));
        double[] gaps = IntStream.range(0, n).mapToDouble(i -> (arrivals.dueNanos(i + 1) - arrivals.dueNanos(i)) / 1e9)
                .sorted().toArray();
        double distance = 0;
        for (int i = 0; i < n; i++) {
            double theory = 1 - Math.exp(-rate * gaps[i]);
            distance = Math.max(distance, Math.max(theory - (double) i / n, (i + 1.0) / n - theory));
        }
        assertThat(distance).isLessThan(1.36 / Math.sqrt(n));
        long half = arrivals.dueNanos(n / 2);
        assertThat(arrivals.dueBefore(half)).isEqualTo(n / 2);
        assertThat(arrivals.dueBefore(half + 1)).isEqualTo(n / 2 + 1);
    }
}
