package kadrem.load.drive;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.ServiceLoader;
import java.util.concurrent.ConcurrentHashMap;
import java.util.jar.JarEntry;
import java.util.jar.JarOutputStream;

import javax.tools.ToolProvider;

import kadrem.core.plan.LoadStream;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.Protocol;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The example of a driver: compiled, put into a jar, found by the service loader, and used. */
class ExampleDriverTest {
    private static final Path EXAMPLE = Path.of("..", "examples", "driver", "src", "main");
    private static final String SOURCE = "java/harbour/driver/MemcachedProtocol.java";

    @TempDir
    Path folder;

    private Path jar() throws IOException {
        Path classes = Files.createDirectories(folder.resolve("classes"));
        int result = ToolProvider.getSystemJavaCompiler().run(null, null, null, "-d", classes.toString(), "-cp",
                System.getProperty("java.class.path"), EXAMPLE.resolve(SOURCE).toString());
        assertThat(result).as("it compiles").isZero();
        Path jar = folder.resolve("driver.jar");
        try (var out = new JarOutputStream(Files.newOutputStream(jar)); var files = Files.walk(classes)) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                put(out, classes.relativize(file).toString(), file);
            }
            String service = "META-INF/services/kadrem.core.study.Protocol";
            put(out, service, EXAMPLE.resolve("resources").resolve(service));
        }
        return jar;
    }

    private static void put(JarOutputStream out, String name, Path file) throws IOException {
        out.putNextEntry(new JarEntry(name));
        out.write(Files.readAllBytes(file));
        out.closeEntry();
    }

    @Test
    void aDriverOfUnder200LinesIsFoundInAJarAndSendsCalls() throws Exception {
        assertThat(Files.readAllLines(EXAMPLE.resolve(SOURCE))).hasSizeLessThan(200);
        try (var loader = new URLClassLoader(new URL[]{jar().toUri().toURL()}, getClass().getClassLoader());
                ServerSocket server = store()) {
            Protocol found = ServiceLoader.load(Protocol.class, loader).stream().map(ServiceLoader.Provider::get)
                    .filter(one -> one.id().equals("memcached")).findFirst().orElseThrow();
            var driver = (ProtocolDriver) found;
            Workload workload = Rehearsed.workload(
                    call(Map.of("does", "set", "key", "berth:7", "value", "{\"id\": 7}")),
                    call(Map.of("key", "berth:7")), call(Map.of("key", "nothing")));
            var order = Rehearsed.order(
                    found.address("memcached://127.0.0.1:" + server.getLocalPort()).orElseThrow(), Access.OPEN,
                    workload, folder);
            try (Driver opened = driver.open(order); Rehearser rehearser = opened.newRehearser()) {
                var values = new CallValues(new LoadStream(workload, 0, 7).newDraw(), 0);
                assertThat(rehearser.call("v", 0, values).statusWord()).isEqualTo("STORED");
                RehearsedCall got = rehearser.call("v", 1, values);
                assertThat(Rehearsed.body(got)).as(got.detail()).isEqualTo("{\"id\": 7}");
                assertThat(rehearser.call("v", 2, values).statusWord()).isEqualTo("END");
            }
        }
    }

    private static Call call(Map<String, String> fields) {
        var form = new LinkedHashMap<String, List<String>>();
        fields.forEach((name, text) -> form.put(name, List.of(text)));
        return Call.of("c" + fields.hashCode(), "GET", "").with(Form.of("memcached", form)).in("memcached");
    }

    /** Enough of memcached for the test. Source: its protocol.txt, "Storage commands" and "Retrieval command". */
    private static ServerSocket store() throws IOException {
        var server = new ServerSocket(0, 5, InetAddress.getLoopbackAddress());
        Map<String, String> data = new ConcurrentHashMap<>();
        Thread.ofVirtual().start(() -> {
            try {
                while (true) {
                    Socket client = server.accept();
                    Thread.ofVirtual().start(() -> serve(client, data));
                }
            } catch (IOException _) {
                // closed
            }
        });
        return server;
    }

    private static void serve(Socket client, Map<String, String> data) {
        try (client;
                var in = new java.io.BufferedReader(
                        new java.io.InputStreamReader(client.getInputStream(), StandardCharsets.US_ASCII))) {
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                String[] words = line.split(" ");
                String answer;
                if (words[0].equals("set")) {
                    data.put(words[1], in.readLine());
                    answer = "STORED\r\n";
                } else {
                    String value = data.get(words[1]);
                    answer = value == null
                            ? "END\r\n"
                            : "VALUE " + words[1] + " 0 " + value.length() + "\r\n" + value + "\r\nEND\r\n";
                }
                client.getOutputStream().write(answer.getBytes(StandardCharsets.US_ASCII));
            }
        } catch (IOException _) {
            // the test is over
        }
    }
}
