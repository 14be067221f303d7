package kadrem.work;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.stream.LongStream;

import kadrem.core.measure.Exchange;
import kadrem.core.measure.SecondTally;
import kadrem.core.study.Address;
import kadrem.core.plan.Recorded;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Timeline;
import kadrem.files.timeline.ReadyTimeline;
import kadrem.files.imports.log.AccessLog;
import kadrem.files.imports.log.LogChoice;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyFile;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.Secrets;
import kadrem.load.engine.LoadListener;
import kadrem.load.engine.LoadOrder;
import kadrem.load.engine.LoadResult;
import kadrem.load.engine.LoadRun;
import kadrem.load.net.Transport;
import org.hipparchus.stat.inference.KolmogorovSmirnovTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIfSystemProperty;
import org.junit.jupiter.api.io.TempDir;

/**
 * An access log of 100,000 lines is made again, ten times as fast, against a real server that notes what it is asked for and when. The
 * reference is the script that made the log, which knows each instant before it was rounded to the log's whole seconds.
 */
class TimelineReplayTest {
    private static final int LINES = 100_000;
    private static final double SECONDS = 250;
    private static final int SPEED = 10;
    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("dd/MMM/yyyy:HH:mm:ss Z", Locale.ENGLISH)
            .withZone(ZoneOffset.UTC);
    @TempDir
    private Path folder;

    /** A line of the log, and when it came, in seconds from the beginning. */
    private record Line(double at, String path, double answered) {
    }

    /** Arrivals whose rate doubles in the middle third; a line is written when its answer ended. */
    private static List<Line> script() {
        var random = new Random(20261127);
        var lines = new ArrayList<Line>();
        while (lines.size() < LINES) {
            double at = random.nextDouble() * SECONDS;
            boolean middle = at > SECONDS / 3 && at < SECONDS * 2 / 3;
            if (middle || random.nextBoolean()) {
                String path = random.nextInt(3) == 0
                        ? "/berths?harbour=" + List.of("north", "south", "quay").get(random.nextInt(3))
                        : "/berths/" + (1 + (int) (2400 * Math.pow(random.nextDouble(), 2)));
                lines.add(new Line(at, path, at - Math.log(1 - random.nextDouble()) * 0.05));
            }
        }
        lines.sort(Comparator.comparingDouble(Line::answered));
        return lines;
    }

    private Path log(List<Line> lines) throws Exception {
        Path log = folder.resolve("friday.log");
        try (BufferedWriter out = Files.newBufferedWriter(log)) {
            for (Line line : lines) {
                out.write("192.0.2.7 - - [" + TIME.format(Instant.ofEpochSecond(1_795_773_600L + (long) line.at()))
                        + "] \"GET " + line.path() + " HTTP/1.1\" 200 99 \"-\" \"agent\"\n");
            }
        }
        return log;
    }

    /** What came to the server, and when. */
    private record Asked(long nanos, String path) {
    }

    /** A run, and the instant at which it began. */
    private record Made(long begun, LoadResult result) {
    }

    @Test
    void aLogOfAHundredThousandLinesIsMadeAgainTenTimesAsFast() throws Exception {
        List<Line> lines = script();
        MeasuredStudy study = imported(lines);
        var asked = new ConcurrentLinkedQueue<Asked>();
        Made made = run(study, folder.resolve("study"), asked);

        Map<String, Integer> wanted = new HashMap<>();
        lines.forEach(line -> wanted.merge(line.path(), 1, Integer::sum));
        Map<String, Integer> came = new HashMap<>();
        asked.forEach(one -> came.merge(one.path(), 1, Integer::sum));
        assertThat(came).hasSameSizeAs(wanted);
        assertThat(wanted.keySet().stream().filter(path -> !wanted.get(path).equals(came.get(path))).limit(5)
                .map(path -> path + " " + came.get(path) + " times, not " + wanted.get(path)).toList()).isEmpty();
        assertThat(made.result().stream().parts()).singleElement()
                .satisfies(part -> assertThat(part.length()).isEqualTo(LINES));
        assertLike(lines, due(study));
    }

    private MeasuredStudy imported(List<Line> lines) throws Exception {
        Path home = folder.resolve("study");
        NewStudy.create(home, "Friday");
        StudyFile before = StudyFile.read(home);
        AccessLog log = AccessLog.read(log(lines), before.measured(), LogChoice.USUAL, _ -> {
        });
        before.with(log.write(home, _ -> {
        }).edits()).save();
        Path file = home.resolve("study.yaml");
        Files.writeString(file, Files.readString(file).replaceAll("( +)file: timelines/friday.csv",
                "$0\n$1speed: " + SPEED).replace("warmUp: 5s", "warmUp: 0s"));
        return StudyFile.read(home).measured();
    }

    /** When requests come depends on the processors, too, which the server shares with the load: to be run on a machine at rest. */
    @Test
    @EnabledIfSystemProperty(named = "kadrem.benchmark.replay", matches = "true")
    void requestsComeWhenTheyAreDue() throws Exception {
        List<Line> lines = script();
        MeasuredStudy study = imported(lines);
        var asked = new ConcurrentLinkedQueue<Asked>();
        Made made = run(study, folder.resolve("study"), asked);
        // the run begins with a whole second of the log
        assertLike(lines,
                asked.stream().mapToDouble(one -> (one.nanos() - made.begun()) / 1e9 * SPEED).toArray());
    }

    /** When arrivals are due, in seconds of the log. */
    private static double[] due(MeasuredStudy study) throws Exception {
        var load = (LoadProfile.Open) study.load();
        Timeline timeline = load.timeline().orElseThrow();
        Recorded arrivals = Recorded.of(load, Duration.ZERO, timeline,
                new ReadyTimeline(Path.of(timeline.ready()), timeline.digest()).instants());
        return LongStream.range(0, arrivals.count()).mapToDouble(i -> arrivals.dueNanos(i) / 1e9 * SPEED).toArray();
    }

    private static void assertLike(List<Line> lines, double[] instants) {
        double[] meant = lines.stream().mapToDouble(Line::at).toArray();
        var test = new KolmogorovSmirnovTest();
        double distance = test.kolmogorovSmirnovStatistic(instants, meant);
        double p = test.approximateP(distance, instants.length, meant.length);
        System.out.printf("two-sample Kolmogorov-Smirnov: distance %.4f, p %.3f%n", distance, p);
        assertThat(p).as("two-sample Kolmogorov-Smirnov, distance %s", distance).isGreaterThan(0.05);
    }

    private Made run(MeasuredStudy study, Path home, ConcurrentLinkedQueue<Asked> asked) throws Exception {
        try (var server = new ServerSocket(0, 1024, InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual().start(() -> serve(server, asked));
            var order = new LoadOrder(new Address("127.0.0.1", server.getLocalPort(), ""),
                    study.workload(), study.load(), 5, 1);
            try (Driver driver = Drivers.open(new DriverOrder(order.address(), order.access(), order.workload(),
                    order.load().timeout(), new Secrets(Map.of(), home), Transport.best()));
                    LoadRun load = LoadRun.prepare(order, List.of(driver), Transport.best(), new LoadListener() {
                        @Override
                        public void second(SecondTally tally) {
                            // the server notes what came
                        }

                        @Override
                        public void exchange(Exchange exchange) {
                            // likewise
                        }
                    })) {
                long begun = System.nanoTime() + 50_000_000;
                load.begin(begun);
                load.await();
                return new Made(begun, load.result());
            }
        }
    }

    /** Answers each request at once, a thread a connection. */
    private static void serve(ServerSocket server, ConcurrentLinkedQueue<Asked> asked) {
        try {
            while (true) {
                Socket socket = server.accept();
                socket.setTcpNoDelay(true);
                Thread.ofVirtual().start(() -> answer(socket, asked));
            }
        } catch (IOException _) {
            // it was closed
        }
    }

    private static void answer(Socket socket, ConcurrentLinkedQueue<Asked> asked) {
        byte[] answer = "HTTP/1.1 204 No Content\r\n\r\n".getBytes(StandardCharsets.US_ASCII);
        try (socket;
                var in = new BufferedReader(
                        new InputStreamReader(socket.getInputStream(), StandardCharsets.US_ASCII))) {
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                asked.add(new Asked(System.nanoTime(), line.split(" ")[1]));
                while (!in.readLine().isEmpty()) {
                    // a header
                }
                socket.getOutputStream().write(answer);
            }
        } catch (IOException _) {
            // the run has ended
        }
    }
}
