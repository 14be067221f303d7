package kadrem.core.rehearsal;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;

import kadrem.core.study.AnswerPart;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class UsualDifferencesTest {
    private static final Workload WORKLOAD = new Workload(List.of(), List.of(new Visit("v", 1, List.of(
            Call.of("look", "GET", "/berths/7"), Call.of("book", "POST", "/reservations"),
            new Call("log-in", "POST", "/login", List.of(), Body.NONE, Expectations.ANY_SUCCESS,
                    List.of(new Capture("pass", new Capture.Source.Json("$.pass"))), Optional.empty(), Optional.empty(),
                    List.of(), AnswerPart.WHOLE)))));

    private static Optional<String> reason(String call, String where, String one, String two) {
        return UsualDifferences.reason(new Difference(call, "b", where, one, two), WORKLOAD);
    }

    /** Sources: the RFCs that the reasons name; headers of single requests are common practice, no source. */
    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
            "look|header content-type|application/json|application/json;charset=UTF-8|RFC 8259, section 11",
            "look|header Content-Type|application/problem+json; charset=utf-8|application/problem+json|RFC 8259",
            "look|header content-type|text/html; charset=UTF-8|Text/HTML;charset=utf-8|RFC 9110, section 8.3.1",
            "look|header etag|\"abc\"|W/\"7\"|RFC 9110, section 8.8.3", "look|header etag||\"7\"|validator",
            "look|header x-runtime|0.012|0.004|single request",
            "book|header location|http://127.0.0.1:1/reservations/7|/reservations/9|id that it gave",
            "look|$.key|\"0b5c0a2e-6a52-4a0e-9d4b-3f0c9a0b1c2d\"|\"f47ac10b-58cc-4372-a567-0e02b2c3d479\"|RFC 9562",
            "look|$.madeAt|\"2026-07-01T08:00:00Z\"|\"2026-07-01T10:00:01.5+02:00\"|moment",
            "book|$.id|29978|31|counts for itself", "book|$.data.reservationId|7|8|counts for itself",
            "book|$.reservation|29978|31|counts for itself", "look|$.session['csrf']|\"abcdefgh\"|\"ijklmnop\"|draws",
            "log-in|$.pass|\"x\"|\"y\"|captured as {{pass}}"})
    void whatFrameworksAlwaysDifferInHasItsReason(String call, String where, String one, String two, String reason) {
        assertThat(reason(call, where, one == null ? "" : one, two)).hasValueSatisfying(
                why -> assertThat(why).contains(reason));
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {"look|status|200|404", "look|header content-type|application/json|text/html",
            "look|header content-type|text/html; charset=utf-8|text/html; charset=iso-8859-1",
            "look|header content-type|application/json|application/json; profile=x",
            "look|header cache-control|no-store|max-age=60", "book|header location|/reservations/7|/berths/7",
            "look|$.id|7|8", "book|$.price|10|12", "book|$.id|7|\"x\"", "look|$.free|true|false",
            "look|$.madeAt|\"2026-07-01T08:00:00Z\"|\"2026-07-02T08:00:00Z\"",
            "look|$.day|\"2026-07-01\"|\"2026-07-02\"",
            "look|$.quay|\"Alder\"|\"Birch\"", "look|body|a|b", "look|$.token|\"abc\"|\"abd\"", "look|$.id|7|"})
    void whatMayMatterHasNone(String call, String where, String one, String two) {
        assertThat(reason(call, where, one, two == null ? "" : two)).isEmpty();
    }

    @Test
    void theyAreToldFromTheOthers() {
        var usual = new Difference("look", "b", "header etag", "a", "b");
        var other = new Difference("look", "b", "$.quay", "\"Alder\"", "\"Birch\"");
        assertThat(UsualDifferences.among(List.of(other, usual), WORKLOAD).keySet()).containsExactly(usual);
    }
}
