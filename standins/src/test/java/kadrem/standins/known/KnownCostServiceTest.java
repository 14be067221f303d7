package kadrem.standins.known;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.HexFormat;

import org.junit.jupiter.api.Test;

class KnownCostServiceTest {
    @Test
    void theWorkIsThatOfThePath() {
        assertThat(KnownCostService.rounds("/1080/berths", 5)).isEqualTo(1080);
        assertThat(KnownCostService.rounds("/berths/7", 5)).as("what was set").isEqualTo(5);
        assertThat(KnownCostService.rounds("/", 0)).isZero();
        assertThat(KnownCostService.rounds("/99999999/x", 5)).isNegative();
    }

    @Test
    void whatIsSetHasALimit() {
        assertThatThrownBy(() -> KnownCostService.start(0, 99_999_999)).hasMessageContaining("from 0 to 10000000");
    }

    /** SHA-256 of 64 zero bytes, by sha256sum of GNU coreutils: head -c 64 /dev/zero | sha256sum. */
    @Test
    void aRoundIsOneHash() {
        assertThat(HexFormat.of().formatHex(KnownCostService.work(1), 0, 32))
                .isEqualTo("f5a5fd42d16a20302798ef6ed309979b43003d2320d9f0e8ea9831a92759fb4b");
        assertThat(KnownCostService.work(1)).isNotEqualTo(KnownCostService.work(2));
    }

    @Test
    void itAnswersEveryPathAlikeAndRefusesTooMuch() throws Exception {
        try (KnownCostService service = KnownCostService.start(0, 0); HttpClient client = HttpClient.newHttpClient()) {
            for (String path : new String[]{"/10/x", "/x", "/99999999/x"}) {
                var answer = client.send(HttpRequest.newBuilder(
                        URI.create("http://127.0.0.1:" + service.port() + path)).build(), BodyHandlers.ofString());
                assertThat(answer.statusCode()).isEqualTo(path.startsWith("/9") ? 404 : 200);
                assertThat(answer.body()).isEqualTo("{\"berths\":[]}");
            }
        }
    }
}
