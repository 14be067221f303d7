package kadrem.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.lang.foreign.MemorySegment;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;

import kadrem.core.study.Call;
import kadrem.core.study.Course;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Shape;
import kadrem.core.study.Timeline;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;

/** Runs that follow a timeline of four arrivals: at 0 s, 1 s, 1.5 s and 4 s. */
class TimelineTest {
    private static final long SECOND = 1_000_000_000L;
    private static final Workload WORKLOAD = new Workload(
            List.of(new ValueList.NumberRange("free", 1, 1000), new ValueList.NumberRange("berth", 1, 1000)),
            List.of(visit("look"), visit("book")));

    private static Visit visit(String name) {
        return new Visit(name, 1, List.of(Call.of(name, "GET", "/" + name)));
    }

    /** Of the second list a row is told, but not of the last arrival; nor is its visit. */
    private static Instants instants() {
        long[][] arrivals = {{0, 1, 7}, {SECOND, 0, 8}, {SECOND * 3 / 2, 1, 9}, {SECOND * 4, -1, -1}};
        ByteBuffer all = ByteBuffer.allocate(8 * (4 + 12)).order(ByteOrder.LITTLE_ENDIAN);
        all.put(Instants.head(4, List.of(1)));
        for (long[] arrival : arrivals) {
            ByteBuffer one = Instants.room(3);
            for (long number : arrival) {
                one.putLong(number);
            }
            all.put(one.flip());
        }
        return Instants.in(MemorySegment.ofBuffer(all.flip()));
    }

    private static LoadProfile.Open load(Timeline timeline, int warmUp) {
        var course = new Course(Duration.ofSeconds(warmUp), OptionalDouble.of(2), Duration.ZERO, OptionalLong.empty(),
                Duration.ofSeconds(5), Optional.empty(), List.of());
        return new LoadProfile.Open(Shape.flat(Duration.ofSeconds(5), 1), LoadProfile.Spacing.CONSTANT, 4, 4, course,
                Optional.of(timeline));
    }

    private static Timeline window(long from, long length, double speed, int repeat, long first, long count) {
        return new Timeline("timelines/friday.csv", "d", Duration.ofMillis(from), Duration.ofMillis(length), speed,
                repeat,
                first, count, "");
    }

    private static long[] due(Arrivals arrivals) {
        return java.util.stream.LongStream.range(0, arrivals.count()).map(arrivals::dueNanos).toArray();
    }

    @Test
    void arrivalsComeWhenTheyCame() {
        Timeline whole = window(0, 5000, 1, 1, 0, 4);
        assertThat(due(Recorded.of(load(whole, 0), Duration.ZERO, whole, instants()))).containsExactly(0, SECOND,
                SECOND * 3 / 2,
                SECOND * 4);
    }

    @Test
    void aWindowIsMadeFasterAndAgain() {
        Timeline twice = window(1000, 2000, 2, 2, 1, 2);
        // 1 s and 1.5 s of it, from 1 s, at twice the speed; its two seconds take one
        assertThat(due(Recorded.of(load(twice, 0), Duration.ZERO, twice, instants()))).containsExactly(0, SECOND / 4,
                SECOND,
                SECOND * 5 / 4);
        assertThat(twice.nanos()).isEqualTo(2e9);
    }

    @Test
    void arrivalsBeforeAnInstantAreCounted() {
        Timeline twice = window(1000, 2000, 2, 3, 1, 2);
        Arrivals arrivals = Recorded.of(load(twice, 3), Duration.ZERO, twice, instants());
        long[] due = due(arrivals);
        assertThat(due).isSorted();
        for (long at = 0; at <= 7 * SECOND; at += SECOND / 8) {
            long before = at;
            assertThat(arrivals.dueBefore(at))
                    .isEqualTo(java.util.Arrays.stream(due).filter(one -> one < before).count());
        }
    }

    @Test
    void theWarmUpComesAtItsOwnRateAndDoesWhatTheWindowDoes() {
        Timeline window = window(0, 2000, 1, 1, 0, 3);
        LoadProfile.Open load = load(window, 10);
        Recorded arrivals = Recorded.of(load, Duration.ZERO, window, instants());
        LoadStream stream = LoadStream.of(WORKLOAD, load, 0, 5, Optional.of(arrivals));
        LoadStream.Draw draw = stream.newDraw();
        assertThat(arrivals.count()).isEqualTo(23);
        assertThat(arrivals.dueNanos(19)).isEqualTo(SECOND * 19 / 2);
        for (int i = 0; i < 20; i++) {
            stream.draw(0, i, draw);
            assertThat(draw.row(1)).isBetween(7L, 9L);
            assertThat(draw.visit()).isEqualTo(draw.row(1) == 8 ? 0 : 1);
        }
        assertThat(arrivals.dueNanos(20)).isEqualTo(10 * SECOND);
    }

    @Test
    void whatIsToldIsMadeAndTheRestIsDrawn() {
        Timeline whole = window(0, 5000, 1, 1, 0, 4);
        LoadProfile.Open load = load(whole, 0);
        LoadStream told = LoadStream.of(WORKLOAD, load, 0, 5,
                Optional.of(Recorded.of(load, Duration.ZERO, whole, instants())));
        LoadStream drawn = LoadStream.of(WORKLOAD, load, 5);
        LoadStream.Draw one = told.newDraw();
        LoadStream.Draw other = drawn.newDraw();
        int[] visits = {1, 0, 1};
        for (int i = 0; i < 4; i++) {
            told.draw(0, i, one);
            drawn.draw(0, i, other);
            assertThat(one.row(0)).isEqualTo(other.row(0));
            assertThat(one.visit()).isEqualTo(i < 3 ? visits[i] : other.visit());
            assertThat(one.row(1)).isEqualTo(i < 3 ? 7 + i : other.row(1));
        }
    }

    @Test
    void whatIsCutOffIsRefused() {
        ByteBuffer head = ByteBuffer.allocate(32);
        head.put(Instants.head(4, List.of(1)));
        assertThatThrownBy(() -> Instants.in(MemorySegment.ofBuffer(head.flip())))
                .isInstanceOf(IllegalArgumentException.class).hasMessageContaining("cut off");
        assertThatThrownBy(() -> Instants.in(MemorySegment.ofArray(new byte[64])))
                .isInstanceOf(IllegalArgumentException.class).hasMessageContaining("no arrivals");
        Timeline beyond = window(0, 9000, 1, 1, 2, 3);
        assertThatThrownBy(() -> Recorded.of(load(beyond, 0), Duration.ZERO, beyond, instants()))
                .isInstanceOf(IllegalArgumentException.class).hasMessageContaining("4 arrivals");
    }
}
