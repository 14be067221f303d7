package kadrem.load.generator;

import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.SecondTally;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.drive.Peer;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.http.HttpPeer;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadSession;

/**
 * Loads of the usual kinds against an answerer in this process, by which the virtual machine learns what the code of the engine does
 * and which of it is hot (JEP 483, 514 and 515). Orders and seconds go through the forms in which they are sent to another process.
 */
final class Practice {
    private static final int USERS = 32;
    private static final double RATE = 4_000;

    private Practice() {
    }

    static void of(Duration each) {
        Call plain = Call.of("plain", "GET", "/berths/{{berth}}");
        Call captured = Call.of("captured", "GET", "/berths").capturing(new Capture("found",
                new Capture.Source.Json("$.berth")));
        Call sent = Call.of("sent", "POST", "/reservations").withBody("{\"berth\": {{berth}}, \"day\": \"{{day}}\"}");
        var workload = new Workload(
                List.of(new ValueList.NumberRange("berth", 1, 500),
                        new ValueList.Listed("day", "", "", List.of("2026-06-01", "2026-06-02"))),
                List.of(new Visit("look", 3, List.of(plain, plain)), new Visit("reserve", 1, List.of(captured, sent))));
        try (Peer peer = HttpPeer.of(workload, Wire.USUAL)) {
            Address address = peer.address();
            once(new LoadOrder(address, workload, new LoadProfile.Closed(USERS, ThinkTime.NONE, Duration.ZERO, each,
                    Duration.ofSeconds(5)), 1, 1));
            once(new LoadOrder(address, workload, new LoadProfile.Open(RATE, LoadProfile.Spacing.POISSON, USERS,
                    Duration.ofSeconds(1), each, Duration.ofSeconds(5)).withConnectionLimit(10 * USERS), 2, 1));
        }
        Wire streams = Wire.USUAL.withProtocol(Wire.Protocol.HTTP_2, USERS);
        try (Peer peer = HttpPeer.of(workload, streams)) {
            once(new LoadOrder(peer.address(), peer.access(), workload,
                    new LoadProfile.Closed(USERS, ThinkTime.NONE, Duration.ZERO, each, Duration.ofSeconds(5)), 3, 1));
        }
    }

    private static void once(LoadOrder order) {
        var tallies = new TallyFrame();
        try {
            byte[] json = MessageJson.write(new Message.Prepare(1, order, ""));
            if (!(MessageJson.read(json) instanceof Message.Prepare(int _, LoadOrder read, String _))) {
                throw new IllegalStateException("an order came back as something else");
            }
            try (LoadSession load = LocalLoad.MAKER.prepare(read, new Secrets(Map.of(), Path.of("")),
                    new LoadListener() {
                        @Override
                        public void second(SecondTally tally) {
                            try {
                                TallyFrame.read(tallies.write(tally), 0, new SecondTally(tally.callCount()));
                            } catch (java.io.IOException cause) {
                                throw new java.io.UncheckedIOException("in memory", cause);
                            }
                        }

                        @Override
                        public void exchange(Exchange exchange) {
                            // not kept
                        }
                    })) {
                load.begin(System.nanoTime() + 10_000_000);
                load.await();
                MessageJson.read(MessageJson.write(new Message.Ended(1, load.result(), load.collectorPauses())));
                MessageJson.read(MessageJson.write(new Message.Used(1, load.usage())));
            }
        } catch (UnusableCall | java.io.IOException cause) {
            throw new IllegalStateException("the practice failed: " + cause.getMessage(), cause);
        }
    }
}
