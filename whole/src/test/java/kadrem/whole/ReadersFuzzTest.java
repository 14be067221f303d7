package kadrem.whole;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;

import com.code_intelligence.jazzer.junit.FuzzTest;
import kadrem.core.examine.Selection;
import kadrem.core.study.Access;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.Protocols;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.files.compare.ComparisonJson;
import kadrem.files.compare.Results;
import kadrem.files.compare.ValueFiles;
import kadrem.files.export.StudyZip;
import kadrem.files.imports.ImportException;
import kadrem.files.imports.Importing;
import kadrem.files.rehearsal.RehearsalFile;
import kadrem.files.run.RunFolders;
import kadrem.files.run.RunReader;
import kadrem.files.study.StudyException;
import kadrem.files.imports.log.AccessLog;
import kadrem.files.imports.log.LogChoice;
import kadrem.files.study.NewStudy;
import kadrem.files.study.StudyFile;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Drivers;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Whatever a file from elsewhere holds: it is taken, or refused with words, and neither for long. The first byte says what kind of file the
 * others are. Without further word the kept inputs are tried again; with {@code JAZZER_FUZZ=1} in the environment others are looked for.
 */
class ReadersFuzzTest {
    private static final Duration MAX = Duration.ofSeconds(30);
    private static final Path DEMO = Path.of("../demo/harbour-berths");
    private static final Path WORK = work();

    private enum Kind {
        STUDY, RUN, SECONDS, EXCHANGES, LATENCIES, REHEARSAL, ARCHIVE, CAPTURE, COMMAND, REQUEST, DESCRIPTION, VALUES, DESCRIPTORS, PROTO, LOG, TIMELINE
    }

    private static Path work() {
        try {
            Path memory = Path.of("/dev/shm");
            return Files.isWritable(memory)
                    ? Files.createTempDirectory(memory, "kadrem-fuzz")
                    : Files.createTempDirectory("kadrem-fuzz");
        } catch (IOException cause) {
            throw new UncheckedIOException(cause);
        }
    }

    @AfterAll
    static void end() throws IOException {
        empty(WORK);
    }

    private static void empty(Path folder) throws IOException {
        if (Files.exists(folder)) {
            try (Stream<Path> all = Files.walk(folder)) {
                for (Path one : all.sorted(Comparator.reverseOrder()).toList()) {
                    Files.delete(one);
                }
            }
        }
    }

    private static byte[] seed(Kind kind, byte[] content) {
        var bytes = new byte[content.length + 1];
        bytes[0] = (byte) kind.ordinal();
        System.arraycopy(content, 0, bytes, 1, content.length);
        return bytes;
    }

    private static byte[] seed(Kind kind, String content) {
        return seed(kind, content.getBytes(StandardCharsets.UTF_8));
    }

    /** The demo's own files, and small ones of every other kind. */
    static List<byte[]> seeds() throws IOException {
        var seeds = new ArrayList<byte[]>();
        try (Stream<Path> studies = Files.list(DEMO.getParent())) {
            for (Path study : studies.filter(Files::isDirectory).sorted().toList()) {
                seeds.add(seed(Kind.STUDY, Files.readAllBytes(study.resolve(StudyFile.NAME))));
            }
        }
        Path run = new RunFolders(DEMO).find().runs().stream().findFirst()
                .map(one -> DEMO.resolve("runs").resolve(one.folderName())).orElseThrow();
        seeds.add(seed(Kind.RUN, Files.readAllBytes(run.resolve("run.json"))));
        seeds.add(seed(Kind.SECONDS, Files.readAllBytes(run.resolve("seconds.csv"))));
        seeds.add(seed(Kind.EXCHANGES, Files.readAllBytes(run.resolve("exchanges.jsonl"))));
        seeds.add(seed(Kind.LATENCIES, Files.readAllBytes(run.resolve("latency.hlog"))));
        seeds.add(seed(Kind.REHEARSAL, Files.readAllBytes(DEMO.resolve(RehearsalFile.NAME))));
        var archive = new ByteArrayOutputStream();
        try (var zip = new ZipOutputStream(archive)) {
            zip.putNextEntry(new ZipEntry(StudyFile.NAME));
            zip.write("kadrem: 1\n".getBytes(StandardCharsets.UTF_8));
            zip.putNextEntry(new ZipEntry("values/a.csv"));
            zip.write("a\n1\n".getBytes(StandardCharsets.UTF_8));
        }
        seeds.add(seed(Kind.ARCHIVE, archive.toByteArray()));
        seeds.add(seed(Kind.CAPTURE, "{\"log\":{\"entries\":[{\"startedDateTime\":\"2026-07-14T08:00:00Z\",\"time\":12,"
                + "\"request\":{\"method\":\"POST\",\"url\":\"http://127.0.0.1/berths?day=1\",\"headers\":[{\"name\":\"Accept\","
                + "\"value\":\"*/*\"}],\"postData\":{\"text\":\"{}\"}},\"response\":{\"content\":{\"mimeType\":\"x\"}}}]}}"));
        seeds.add(seed(Kind.COMMAND,
                "curl -X POST 'http://127.0.0.1:8080/berths?x=1' -H \"A: b\" --data $'{\\n}' -u a:b"));
        seeds.add(seed(Kind.REQUEST, "POST http://127.0.0.1/berths HTTP/1.1\nAccept: */*\n\n{\"berth\": 7}"));
        seeds.add(seed(Kind.DESCRIPTION,
                "openapi: 3.1.0\ninfo: {title: x, version: '1'}\npaths:\n  /b/{id}:\n    get:\n"
                        + "      parameters:\n        - {name: id, in: path, required: true, schema: {type: integer}}\n"
                        + "      responses: {'200': {description: ok}}\n"));
        seeds.add(seed(Kind.VALUES, "candidate,value\na,1.5\na,1.6\nb,2\n"));
        seeds.add(seed(Kind.DESCRIPTORS, new byte[]{10, 7, 10, 5, 'a', '.', 'p', 'b', 'x'}));
        seeds.add(seed(Kind.PROTO,
                "syntax = \"proto3\";\nmessage A { int32 b = 1; }\nservice S { rpc M(A) returns (A); }\n"));
        seeds.add(seed(Kind.LOG,
                "192.0.2.7 - - [27/Nov/2026:10:00:00 +0100] \"GET /b/7?q=a%20b&t=1 HTTP/1.1\" 200 9\n".repeat(2)));
        seeds.add(seed(Kind.LOG,
                "{\"ts\":\"2026-11-27T10:00:00.5Z\",\"h\":{\"url\":\"/b/7\",\"code\":200}}\n".repeat(2)));
        seeds.add(seed(Kind.LOG, "time,path,status\n2026-11-27 10:00:00,/b/7,200\n1764237601.5,/b/8,200\n"));
        seeds.add(seed(Kind.LOG, "0\n0.5\n1764237601500\n"));
        seeds.add(seed(Kind.TIMELINE, "at,visit,berth\n0,look,7\n0.25,,\n1.5,look,9\n"));
        return seeds;
    }

    @MethodSource("seeds")
    @FuzzTest(maxDuration = "60s")
    void whatIsReadIsTakenOrRefused(byte[] data) throws IOException {
        if (data.length == 0) {
            return;
        }
        Kind kind = Kind.values()[Math.floorMod(data[0], Kind.values().length)];
        byte[] content = Arrays.copyOfRange(data, 1, data.length);
        Path folder = Files.createDirectories(WORK.resolve("one"));
        long begun = System.nanoTime();
        try {
            read(kind, content, folder);
        } catch (StudyException | IOException | ImportException | ValueFiles.Unusable | UnusableCall refused) {
            assertThat(String.valueOf(refused.getMessage())).as("%s is refused with words", kind).isNotBlank();
        } finally {
            empty(folder);
        }
        assertThat(Duration.ofNanos(System.nanoTime() - begun)).as("%s", kind).isLessThan(MAX);
    }

    private static void read(Kind kind, byte[] content, Path folder)
            throws StudyException, IOException, ImportException, ValueFiles.Unusable, UnusableCall {
        String text = new String(content, StandardCharsets.UTF_8);
        switch (kind) {
            case STUDY -> {
                Files.write(folder.resolve(StudyFile.NAME), content);
                StudyFile.read(folder);
            }
            case RUN -> {
                Files.copy(DEMO.resolve(StudyFile.NAME), folder.resolve(StudyFile.NAME));
                Files.write(Files.createDirectories(folder.resolve("runs/001-pool-00000000")).resolve("run.json"),
                        content);
                ComparisonJson.write(Results.read(folder));
            }
            case SECONDS -> {
                Files.write(folder.resolve("seconds.csv"), content);
                RunReader.seconds(folder);
                RunReader.view(folder, Selection.ALL);
            }
            case EXCHANGES -> {
                Files.write(folder.resolve("exchanges.jsonl"), content);
                RunReader.exchanges(folder);
            }
            case LATENCIES -> {
                Files.write(folder.resolve("latency.hlog"), content);
                RunReader.responses(folder);
            }
            case REHEARSAL -> {
                Files.write(folder.resolve(RehearsalFile.NAME), content);
                RehearsalFile.read(folder);
            }
            case ARCHIVE -> {
                Path archive = Files.write(folder.resolve("study.zip"), content);
                StudyZip.unpack(archive, folder.resolve("unpacked"));
            }
            case CAPTURE -> {
                Path capture = Files.write(folder.resolve("capture.har"), content);
                Importing.file(Importing.Kind.CAPTURE, capture, Set.of(), true, _ -> {
                }).edits(new Workload(List.of(), List.of()));
            }
            case COMMAND -> Importing.text(Importing.Kind.COMMAND, text).edits(new Workload(List.of(), List.of()));
            case REQUEST -> Importing.text(Importing.Kind.REQUEST, text).edits(new Workload(List.of(), List.of()));
            case DESCRIPTION -> Importing.text(Importing.Kind.DESCRIPTION, text)
                    .edits(new Workload(List.of(), List.of()));
            case VALUES -> ValueFiles.read(List.of(Files.write(folder.resolve("values.csv"), content)),
                    Optional.empty());
            case DESCRIPTORS -> describe(folder, "board.binpb", content);
            case PROTO -> describe(folder, "board.proto", content);
            case LOG -> {
                NewStudy.create(folder.resolve("study"), "Log");
                StudyFile study = StudyFile.read(folder.resolve("study"));
                study.with(
                        AccessLog.read(Files.write(folder.resolve("a.log"), content), study.measured(), LogChoice.USUAL,
                                _ -> {
                                }).write(folder.resolve("study"), _ -> {
                                }).edits());
            }
            case TIMELINE -> {
                Files.write(folder.resolve("a.csv"), content);
                Files.writeString(folder.resolve(StudyFile.NAME), """
                        kadrem: 1
                        name: Timeline
                        question: {text: "Which?", decide: [{metric: p95}]}
                        candidates: [{id: a, address: "http://127.0.0.1:1"}, {id: b, address: "http://127.0.0.1:2"}]
                        workload:
                          values: [{name: berth, from: 1, to: 100}]
                          visits: [{name: look, calls: [{name: one, path: "/b/{{berth}}"}]}]
                        load: {model: open, timeline: {file: a.csv}}
                        """);
                StudyFile.read(folder);
            }
        }
    }

    private static void describe(Path folder, String name, byte[] content) throws IOException, UnusableCall {
        Files.write(folder.resolve(name), content);
        Call call = Call.of("one", "GET", "").with(Form.of("grpc", Map.of("method", List.of("S/M")))).in("grpc");
        try (Driver _ = Drivers.open(new DriverOrder(
                Protocols.byId("grpc").orElseThrow().address("grpc://127.0.0.1:1").orElseThrow(),
                Access.with(Map.of("descriptors", List.of(name))),
                new Workload(List.of(), List.of(new Visit("v", 1, List.of(call)))), Duration.ofSeconds(1),
                new Secrets(Map.of(), folder), Transport.best()))) {
            assertThat(call.name()).isEqualTo("one");
        }
    }
}
