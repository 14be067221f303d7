package kadrem.load.generator;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;

import kadrem.core.measure.FailureKind;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.Phase;
import kadrem.core.measure.SecondTally;
import kadrem.core.measure.TurnCause;
import kadrem.core.plan.StreamDigest;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Body;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.Form;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Pacing;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;
import kadrem.core.study.SignIn;
import kadrem.core.study.StatusSet;
import kadrem.core.study.StopRule;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.Tls;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.Spent;
import kadrem.load.engine.GeneratorUsage;
import kadrem.load.engine.LaneShare;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadResult;
import org.junit.jupiter.api.Test;

class MessageJsonTest {
    private static LoadOrder order() {
        Call call = new Call("reserve", "POST", "/reservations/{{berth}}",
                List.of(new Call.Header("X-Day", "{{day}}")),
                new Body.Form(List.of(new Body.Field("ship", "{{ship}}"))),
                new Expectations(StatusSet.of(200, 409), Optional.of(Duration.ofMillis(250)),
                        List.of(new Expectations.Expectation.JsonValue("$.ok", Optional.of("true")))),
                List.of(new Capture("id", new Capture.Source.Json("$.id"))), Optional.of(Duration.ofSeconds(3)),
                Optional.of(new ThinkTime.Lognormal(Duration.ofMillis(300), Duration.ofMillis(90))))
                .with(Form.of("grpc", Map.of("method", List.of("harbour.Board/Reserve"))));
        Call file = Call.of("plan", "PUT", "/plan").withBody(
                new Body.FromFile("plan.bin", "application/octet-stream", Bytes.of(new byte[]{0, -1, 7})));
        var workload = new Workload(
                List.of(new ValueList.NumberRange("berth", 1, 40),
                        new ValueList.Listed("ship", "ships.csv", "name", List.of("Alma", "Bö, \"Bo\"")),
                        new ValueList.Timestamp("day", Instant.EPOCH, Instant.EPOCH.plusSeconds(99), true,
                                ValueList.Draw.USUAL)),
                List.of(Call.of("sign-in", "GET", "/sign-in")),
                List.of(new Visit("one", 2.5, 3, List.of(call)), new Visit("two", 1, List.of(file))),
                Workload.Choice.IN_TURN);
        LoadProfile load = new LoadProfile.Open(
                new Shape(List.of(Segment.ramp(Duration.ofSeconds(5), 300), Segment.hold(Duration.ofSeconds(9), 300))),
                LoadProfile.Spacing.POISSON, 16, 640,
                kadrem.core.study.Course.of(Duration.ofSeconds(2), Duration.ofSeconds(4)).withVisits(1000)
                        .withStopRules(List.of(new StopRule(Metric.P99, 1e9, Duration.ofSeconds(9), true))));
        var access = new Access(new SignIn.Basic("harbour", "{{env:BERTH_PASSWORD}}"),
                new Tls(false, Optional.of("ca.pem"), Optional.empty(), Optional.empty()),
                Wire.USUAL.withProtocol(Wire.Protocol.HTTP_2, 8), Map.of("isolation", List.of("serializable")));
        return new LoadOrder(new Address("::1", 8443, "/api", true), access, workload, load, -31,
                new LaneShare(2, 1, 4),
                Optional.of(Pacing.EXACT), List.of(3), List.of(0, 1));
    }

    @Test
    void anOrderComesBackAsItWas() throws IOException {
        var sent = new Message.Prepare(7, order(), "/somewhere");
        assertThat(MessageJson.read(MessageJson.write(sent))).isEqualTo(sent);
    }

    @Test
    void whatTheProcessTellsComesBackAsItWas() throws IOException {
        var ended = new Message.Ended(7, new LoadResult(new StreamDigest(StreamDigest.Model.OPEN,
                List.of(new StreamDigest.Part(400, Long.MIN_VALUE))),
                List.of(new LoadResult.Begun("readers", 400, 399)), false, OptionalDouble.of(1.5), 0),
                new LatencySummary(2, 1.5, 1, 2, 2, 2, 2, 2));
        assertThat(MessageJson.read(MessageJson.write(ended))).isEqualTo(ended);
        var used = new Message.Used(7, new GeneratorUsage(1, 2, 3, 4, Optional.of(new Spent(5, 6, 7))));
        assertThat(MessageJson.read(MessageJson.write(used))).isEqualTo(used);
    }

    /** Whoever speaks to the process of the load cannot have it make objects of its choice. */
    @Test
    void nothingButMessagesIsMade() {
        String other = "{\"is\":\"javax.swing.JEditorPane\",\"page\":\"http://127.0.0.1:1/\"}";
        assertThatThrownBy(() -> MessageJson.read(other.getBytes(StandardCharsets.UTF_8)))
                .isInstanceOf(IOException.class);
        String inside = "{\"is\":\"kadrem.load.generator.Message$Used\",\"session\":1,\"usage\":"
                + "{\"is\":\"java.util.HashMap\"}}";
        assertThatThrownBy(() -> MessageJson.read(inside.getBytes(StandardCharsets.UTF_8)))
                .isInstanceOf(IOException.class);
    }

    @Test
    void aSecondComesBackAsItWas() throws IOException {
        var tally = new SecondTally(2);
        tally.second = 11;
        tally.intended = 12;
        tally.busy = 3;
        tally.busyNanos = 2_500_000_000L;
        tally.workNanos = 700_000_000L;
        tally.backlog = 4;
        tally.ownFaults = 1;
        tally.longTurns.add(TurnCause.COLLECTOR, 3_000_000);
        tally.late.recordValue(700);
        var call = tally.call(1, Phase.MEASURED);
        call.sent = 3;
        call.good = 2;
        call.failed[FailureKind.TIMEOUT.ordinal()] = 1;
        call.failedWith("503");
        call.answered(40_000, 900, 38_000);
        call.answered(41_000, 0, 41_000);
        call.parts = 1;
        call.first().recordValue(1234);
        var back = new SecondTally(2);
        TallyFrame.read(new TallyFrame().write(tally), 0, back);
        assertThat(back.second).isEqualTo(11);
        assertThat(List.of(back.intended, back.busy, back.busyNanos, back.workNanos, back.backlog, back.ownFaults))
                .containsExactly(12L, 3L, 2_500_000_000L, 700_000_000L, 4L, 1L);
        assertThat(back.longTurns.all()).isEqualTo(tally.longTurns.all());
        assertThat(back.late.getMaxValue()).isEqualTo(tally.late.getMaxValue());
        var read = back.call(1, Phase.MEASURED);
        assertThat(read.response()).isEqualTo(call.response());
        assertThat(read.raw()).isEqualTo(call.raw());
        assertThat(read.service()).isEqualTo(call.service());
        assertThat(read.late()).isEqualTo(call.late());
        assertThat(read.first()).isEqualTo(call.first());
        assertThat(read.statuses).isEqualTo(Map.of("503", 1L));
        assertThat(read.failedTotal()).isEqualTo(1);
        assertThat(read.responseSum).isEqualTo(call.responseSum);
        assertThat(back.call(0, Phase.MEASURED).isEmpty()).isTrue();
    }
}
