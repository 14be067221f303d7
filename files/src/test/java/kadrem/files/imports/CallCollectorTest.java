package kadrem.files.imports;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

import kadrem.core.study.Call;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CallCollectorTest {
    private static final Instant START = Instant.parse("2026-07-01T08:00:00Z");
    private final CallCollector collector = new CallCollector("board"::equals, false);

    private void take(String method, String host, String target, String type, long millis) {
        collector.take(method, host, target, List.of(new Call.Header("Accept", "*/*"),
                new Call.Header("Cookie", "sid=1"), new Call.Header("Sec-Fetch-Mode", "cors")), "", Answer.of(type),
                Optional.of(START.plusMillis(millis)), Duration.ofMillis(100));
    }

    @ParameterizedTest
    @CsvSource({"/a.css,text/plain,true", "/a.PNG?v=2,'',true", "/font,font/woff2,true",
            "/x,application/javascript,true",
            "/x,image/svg+xml,true", "/berths.json,application/json,false", "/css,text/html,false",
            "/x?file=a.png,application/json,false"})
    void staticFilesAreToldByTypeAndName(String target, String type, boolean isStatic) {
        assertThat(CallCollector.isStatic(target, type)).isEqualTo(isStatic);
    }

    @Test
    void whatIsNotWantedIsCounted() {
        assertThat(collector.isEmpty()).isTrue();
        take("get", "board", "/berths/7", "application/json", 0);
        take("GET", "board", "/berths/7", "application/json", 200);
        take("GET", "elsewhere", "/x", "text/html", 300);
        take("GET", "board", "/a.css", "text/css", 400);
        take("GET", "board", "/tides", "application/json", 1000);
        Imported imported = collector.imported("v");
        assertThat(imported.kept()).extracting(call -> call.method() + " " + call.target())
                .containsExactly("GET /berths/7", "GET /tides");
        assertThat(imported.dropped()).containsEntry("equal calls", 1L).containsEntry("third parties", 1L)
                .containsEntry("static files", 1L);
        assertThat(imported.kept().getFirst().headers()).extracting(Call.Header::name).containsExactly("Accept");
        assertThat(imported.notes()).singleElement().asString().contains("cookies");
        assertThat(imported.summary())
                .isEqualTo("2 calls kept; left out: 1 static files, 1 third parties, 1 equal calls");
    }

    @Test
    void aPauseIsTheUsersOnly() {
        take("GET", "board", "/a", "text/html", 0);
        take("GET", "board", "/b", "text/html", 50);
        take("GET", "board", "/c", "text/html", 3000);
        List<FoundCall> kept = collector.imported("v").kept();
        assertThat(kept.get(0).pause()).as("the next began before this one ended").isEmpty();
        assertThat(kept.get(1).pause()).hasValue(Duration.ofMillis(2850));
        assertThat(kept.get(2).pause()).isEmpty();
    }
}
