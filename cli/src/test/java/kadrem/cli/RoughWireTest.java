package kadrem.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.InetAddress;
import java.net.Socket;
import java.util.concurrent.CompletableFuture;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import kadrem.standins.berths.LoopService;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import picocli.CommandLine;

/** {@code kadrem rough-wire} from the outside. */
class RoughWireTest {
    private static CommandLine line(StringWriter out) {
        CommandLine line = Main.commandLine();
        line.setOut(new PrintWriter(out, true));
        line.setErr(new PrintWriter(out, true));
        return line;
    }

    @Test
    void itLeadsToAServiceAndTellsWhatHappened() throws Exception {
        try (LoopService service = LoopService.on(0)) {
            var out = new StringWriter();
            CompletableFuture<Integer> ended = CompletableFuture
                    .supplyAsync(() -> line(out).execute("rough-wire", "--to",
                            "127.0.0.1:" + service.port(), "--delay", "30ms", "--jitter", "5ms", "--rate", "1MiB",
                            "--for", "4s"));
            Matcher port = Pattern.compile("127\\.0\\.0\\.1:(\\d+) leads to").matcher("");
            while (!port.reset(out.toString()).find() && !ended.isDone()) {
                Thread.sleep(20);
            }
            assertThat(out.toString()).contains("30 ms ± 5 ms each way, 1 MiB/s at most, for 4 s");
            long begun = System.nanoTime();
            try (var socket = new Socket(InetAddress.getLoopbackAddress(), Integer.parseInt(port.group(1)))) {
                socket.getOutputStream()
                        .write("GET /berths/7 HTTP/1.1\r\nHost: a\r\nConnection: close\r\n\r\n".getBytes(
                                java.nio.charset.StandardCharsets.US_ASCII));
                assertThat(new String(socket.getInputStream().readAllBytes(), java.nio.charset.StandardCharsets.UTF_8))
                        .startsWith("HTTP/1.1 200");
            }
            assertThat((System.nanoTime() - begun) / 1e6).isGreaterThan(50);
            assertThat(ended.get()).isZero();
            assertThat(out.toString()).contains("By itself this relay makes an answer").contains(
                    "1 connection: 0 cut, 0 refused, 0 never answered");
        }
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"--to nowhere|127.0.0.1:5432", "--to 127.0.0.1:99999|127.0.0.1:5432",
            "--to 127.0.0.1:1 --delay soon|such as 20ms", "--to 127.0.0.1:1 --delay 1ms --jitter 2ms|at most 1ms",
            "--to 127.0.0.1:1 --cut 120%|such as 1%", "--to 127.0.0.1:1 --cut 60% --half-open 50%|more than 100 %",
            "--to 127.0.0.1:1 --rate fast|such as 512KiB", "--to 192.0.2.1:80|kadrem allow 192.0.2.1"})
    void whatCannotBeIsToldWithItsMend(String options, String mend) {
        var out = new StringWriter();
        assertThat(line(out).execute(("rough-wire " + options).split(" "))).isEqualTo(Main.BAD_INPUT);
        assertThat(out.toString()).contains(mend);
    }
}
