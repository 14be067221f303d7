package kadrem.standins.berths;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.DatagramPacket;
import java.net.DatagramSocket;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

class GaugeServiceTest {
    private static GaugeService gauge;

    @BeforeAll
    static void start() throws IOException {
        gauge = GaugeService.on(0);
    }

    @AfterAll
    static void stop() throws IOException {
        gauge.close();
    }

    private static String line(BufferedReader reader, Socket socket, String asked) throws IOException {
        socket.getOutputStream().write((asked + "\n").getBytes(StandardCharsets.UTF_8));
        return reader.readLine();
    }

    @Test
    void aLineIsAnsweredByALine() throws IOException {
        try (var socket = new Socket(InetAddress.getLoopbackAddress(), gauge.port());
                var reader = new BufferedReader(new InputStreamReader(socket.getInputStream(),
                        StandardCharsets.UTF_8))) {
            assertThat(line(reader, socket, "stations")).isEqualTo("inner-basin north-mole outer-roads");
            String heights = line(reader, socket, "tide north-mole 2026-07-14");
            assertThat(heights.split(" ")).hasSize(144);
            assertThat(Double.parseDouble(heights.split(" ")[0])).isEqualTo(Json.metres(
                    Tides.day("north-mole", Json.day("2026-07-14").orElseThrow()).orElseThrow()[0]));
            assertThat(line(reader, socket, "tide south-mole 2026-07-14")).isEqualTo("error: no such station");
            assertThat(line(reader, socket, "tide north-mole soon")).startsWith("error: give the day");
            assertThat(line(reader, socket, "what")).startsWith("error: ask tide");
        }
    }

    @Test
    void aDatagramIsAnsweredByADatagram() throws IOException {
        try (var socket = new DatagramSocket()) {
            socket.setSoTimeout(20_000);
            byte[] asked = "stations".getBytes(StandardCharsets.UTF_8);
            socket.send(new DatagramPacket(asked, asked.length, InetAddress.getLoopbackAddress(), gauge.port()));
            var answer = new DatagramPacket(new byte[200], 200);
            socket.receive(answer);
            assertThat(new String(Arrays.copyOf(answer.getData(), answer.getLength()), StandardCharsets.UTF_8))
                    .isEqualTo("inner-basin north-mole outer-roads");
        }
    }
}
