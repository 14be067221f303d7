package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.time.Duration;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;

import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;

/** Users and connections are two things: who arrives is fixed, over how many connections depends on the candidate. */
class ConnectionsTest {
    private static TestServer slow(AtomicInteger connections, long millis) throws IOException {
        return new TestServer((socket, in) -> {
            connections.incrementAndGet();
            while (TestServer.readRequest(in)) {
                Thread.sleep(millis);
                socket.getOutputStream().write(TestServer.OK);
            }
        });
    }

    /** By Little's law 100 arrivals a second that each stay 200 ms are 20 at a time. */
    @Test
    void anArrivalThatFindsAllConnectionsHeldOpensAnother() throws IOException {
        var connections = new AtomicInteger();
        try (TestServer server = slow(connections, 200)) {
            LoadProfile load = Load.open(100, 4, 0, 2).withConnectionLimit(500);
            Load made = Load.run(server.port(), Load.one("/x"), load, 1, 1);
            assertThat(made.figures.good()).isEqualTo(200);
            assertThat(connections.get()).isBetween(15, 60);
            assertThat((double) made.figures.response().p50()).as("nobody waited for a connection")
                    .isLessThan(300e6);
        }
    }

    @Test
    void whereAsManyAreOpenAsMayBeArrivalsWaitAndThatIsTheCandidates() throws IOException {
        var connections = new AtomicInteger();
        try (TestServer server = slow(connections, 50)) {
            LoadProfile load = Load.open(100, 2, 0, 1).withConnectionLimit(2);
            Load made = Load.run(server.port(), Load.one("/x"), load, 1, 1);
            assertThat(connections.get()).isEqualTo(2);
            assertThat(made.figures.good()).isEqualTo(100);
            // two connections of 50 ms serve 40 a second: the last of 100 arrivals waits about 1.5 s
            assertThat((double) made.figures.response().max()).isGreaterThan(1.2e9);
            assertThat((double) made.figures.service().p50()).isLessThan(150e6);
            assertThat(made.figures.lateShare(Metric.P50).orElseThrow()).as("waiting is not the generator's")
                    .isLessThan(0.2);
        }
    }

    @Test
    void firstPartsAreMadeAheadOncePerUserHoweverManyConnectionsThereAre() throws IOException {
        Set<String> paths = ConcurrentHashMap.newKeySet();
        var signIns = new AtomicInteger();
        try (TestServer server = new TestServer((socket, in) -> {
            var line = new StringBuilder();
            for (int b = in.read(); b >= 0; b = in.read()) {
                line.append((char) b);
                if (line.length() > 4 && line.substring(line.length() - 4).equals("\r\n\r\n")) {
                    String path = line.substring(4, line.indexOf(" HTTP"));
                    paths.add(path);
                    line.setLength(0);
                    if (path.equals("/sign-in")) {
                        signIns.incrementAndGet();
                    } else {
                        Thread.sleep(100);
                    }
                    socket.getOutputStream().write(TestServer.OK);
                }
            }
        })) {
            var workload = new Workload(List.of(), List.of(Call.of("sign-in", "GET", "/sign-in")),
                    List.of(new Visit("v", 1, List.of(Call.of("look", "GET", "/look")))), Workload.Choice.BY_SHARE);
            LoadProfile load = new LoadProfile.Open(100, LoadProfile.Spacing.CONSTANT, 3, Duration.ofSeconds(1),
                    Duration.ofSeconds(1), Load.PATIENT).withConnectionLimit(100);
            Load made = Load.run(server.port(), workload, load, 1, 1);
            assertThat(signIns.get()).isEqualTo(3);
            assertThat(made.figures.calls().get(0).sent()).as("none in the measured part").isZero();
            assertThat(made.figures.calls().get(1).good()).isEqualTo(100);
        }
    }
}
