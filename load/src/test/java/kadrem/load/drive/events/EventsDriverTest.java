package kadrem.load.drive.events;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

import com.sun.net.httpserver.HttpServer;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Call;
import kadrem.load.drive.Rehearsed;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Streams of events of the JDK's HTTP server. */
class EventsDriverTest {
    @TempDir
    Path folder;

    private static List<EventReader.Event> read(String stream) throws IOException {
        var reader = new EventReader(new ByteArrayInputStream(stream.getBytes(StandardCharsets.UTF_8)));
        var events = new ArrayList<EventReader.Event>();
        for (Optional<EventReader.Event> next = reader.next(); next.isPresent(); next = reader.next()) {
            events.add(next.get());
        }
        return events;
    }

    /** Source: the examples of the HTML Living Standard, 9.2.6 "Interpreting an event stream". */
    @Test
    void streamsAreReadAsTheStandardSays() throws Exception {
        assertThat(read("data: YHOO\ndata: +2\ndata: 10\n\n"))
                .containsExactly(new EventReader.Event("message", "YHOO\n+2\n10", ""));
        assertThat(read(": test stream\n\ndata: first event\nid: 1\n\ndata:second event\nid\n\ndata:  third event\n"))
                .as("the third is not ended").containsExactly(new EventReader.Event("message", "first event", "1"),
                        new EventReader.Event("message", "second event", ""));
        assertThat(read("data\n\ndata\ndata\n\ndata:")).as("an empty one, and one of a newline")
                .containsExactly(new EventReader.Event("message", "", ""), new EventReader.Event("message", "\n", ""));
        assertThat(read("data:test\n\ndata: test\n\n")).extracting(EventReader.Event::data).containsExactly("test",
                "test");
        assertThat(read("\uFEFFevent: add\r\ndata: 73857293\r\n\r\nevent: remove\rdata: 2153\r\r")).containsExactly(
                new EventReader.Event("add", "73857293", ""), new EventReader.Event("remove", "2153", ""));
    }

    private static HttpServer server() throws IOException {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
        server.setExecutor(Runnable::run);
        server.createContext("/live", exchange -> {
            exchange.getResponseHeaders().set("Content-Type", "text/event-stream");
            exchange.sendResponseHeaders(200, 0);
            try (var out = exchange.getResponseBody()) {
                for (int i = 1; i <= 3; i++) {
                    out.write(("event: tide\ndata: {\"metres\": " + i + "}\n\nevent: other\ndata: x\n\n")
                            .getBytes(StandardCharsets.UTF_8));
                    out.flush();
                }
            }
        });
        server.createContext("/plain", exchange -> {
            exchange.getResponseHeaders().set("Content-Type", "text/plain");
            exchange.sendResponseHeaders(200, 2);
            try (var out = exchange.getResponseBody()) {
                out.write("no".getBytes(StandardCharsets.UTF_8));
            }
        });
        server.start();
        return server;
    }

    @Test
    void eventsAreCountedTimedAndLookedInto() throws Exception {
        HttpServer server = server();
        try {
            var address = Rehearsed.address("events", "http://127.0.0.1:" + server.getAddress().getPort());
            Call call = Rehearsed.call("events", "live", "path", "/live?station=a b", "events", "3", "type", "tide");
            assertThat(new EventsProtocol().objection(call.form("events").orElseThrow())).isEmpty();
            Call plain = Rehearsed.call("events", "live", "path", "/live", "events", "3", "type", "tide");
            List<RehearsedCall> made = Rehearsed.all(Rehearsed.order(address, Access.OPEN, Rehearsed.workload(plain),
                    folder));
            assertThat(Rehearsed.body(made.getFirst())).as(made.getFirst().detail()).contains("{\"metres\":1}")
                    .contains("{\"metres\":3}").doesNotContain("\"x\"");
            Load load = Load.run(new LoadOrder(address, Access.OPEN, Rehearsed.workload(plain),
                    Load.arrivals(20, 40, 2), 7, 1), Transport.best());
            assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
            assertThat(load.parts).as("five came before the third of its type").isEqualTo(20 * 5);
            Call more = Rehearsed.call("events", "more", "path", "/live", "events", "9");
            RehearsedCall ended = Rehearsed
                    .all(Rehearsed.order(address, Access.OPEN, Rehearsed.workload(more), folder)).getFirst();
            assertThat(ended.failure()).contains(FailureKind.CLOSED);
            assertThat(ended.detail()).isEqualTo("the stream ended after 6 of 9 events");
            Call wrong = Rehearsed.call("events", "wrong", "path", "/plain");
            assertThat(Rehearsed.all(Rehearsed.order(address, Access.OPEN, Rehearsed.workload(wrong), folder))
                    .getFirst().detail()).contains("200 of text/plain");
        } finally {
            server.stop(0);
        }
    }
}
