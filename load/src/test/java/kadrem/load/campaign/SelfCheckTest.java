package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

import kadrem.core.measure.Capacity;
import kadrem.core.plan.LoadDigest;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.rehearsal.Timeline;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Bytes;
import kadrem.core.study.Call;
import kadrem.core.study.Candidate;
import kadrem.core.study.Capture;
import kadrem.core.study.Expectations;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Question;
import kadrem.core.study.StatusSet;
import kadrem.core.study.Study;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.load.generator.LocalLoad;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SelfCheckTest {
    private static final Call LIST = Call.of("list", "GET", "/berths?day=1")
            .capturing(new Capture("first", new Capture.Source.Json("$.berths[0].id")));
    private static final Call ONE = Call.of("one", "GET", "/berths/{{first}}")
            .expecting(new Expectations(StatusSet.ANY_SUCCESS, Optional.empty(),
                    List.of(new Expectations.Expectation.BodyHolds("Pier"))));

    private static Study study(Call... calls) {
        return study(new Address("127.0.0.1", 1, ""), Wire.USUAL, calls);
    }

    private static Study study(Address address, Wire wire, Call... calls) {
        var candidate = new Candidate("a", "A", address, Optional.empty(), "/", Optional.empty(), Optional.empty(),
                Access.over(wire));
        return new Study("s", new Question("?", "a", 0.05, List.of(new Question.Decider(Metric.P99, 0.1))),
                List.of(candidate), new Workload(List.of(), List.of(new Visit("v", 1, List.of(calls)))),
                new LoadProfile.Closed(4, Duration.ofSeconds(3), Duration.ofSeconds(1), Duration.ofSeconds(5),
                        Duration.ofSeconds(5)),
                new Plan(1, 3, Duration.ZERO));
    }

    private static RehearsedCall answer(String call, String body) {
        Bytes bytes = Bytes.of(body.getBytes(java.nio.charset.StandardCharsets.UTF_8));
        return new RehearsedCall("v", call, "GET", 200, List.of(new Call.Header("Content-Type", "application/json")),
                body.length(), bytes, bytes, "", Timeline.NONE, Optional.empty(), "");
    }

    /** Captured values and expectations cost what they will cost, and none fails: the peer answers as in the rehearsal. */
    @Test
    void thePeerAnswersAsRehearsed() throws Exception {
        Study study = study(LIST, ONE);
        var rehearsal = new Rehearsal(Instant.EPOCH, LoadDigest.of(study),
                List.of(new Rehearsal.OfCandidate("a",
                        List.of(answer("list", "{\"berths\":[{\"id\":7}]}"), answer("one", "{\"name\":\"Pier 7\"}")),
                        "")),
                List.of());
        Capacity capacity = SelfCheck.of(LocalLoad.MAKER, study, Path.of("."), Optional.of(rehearsal));
        assertThat(capacity.peer()).isEqualTo(Capacity.Peer.AS_REHEARSED);
        assertThat(capacity.failedShare()).isZero();
        assertThat(capacity.beside()).as("think time of 3 s is left out").isGreaterThan(50);
        assertThat(capacity.sentence()).contains("with the rehearsed answers");
        assertThat(capacity.objection(capacity.beside() * 2, true).orElseThrow()).contains("Ask for less");
        assertThat(capacity.objection(capacity.beside() / 2, true)).isEmpty();
    }

    /** A load over TLS costs what TLS costs, one over HTTP/2 what that costs, and new connections what they cost. */
    @ParameterizedTest
    @CsvSource({"true, HTTP_1, KEEP", "true, HTTP_2, PER_VISIT"})
    void thePeerIsReachedAsTheCandidateIs(boolean secure, Wire.Protocol protocol, Wire.Reuse reuse) throws Exception {
        Study study = study(new Address("127.0.0.1", 1, "", secure),
                Wire.USUAL.withProtocol(protocol, 1).withReuse(reuse), Call.of("one", "GET", "/berths/7"));
        Capacity capacity = SelfCheck.of(LocalLoad.MAKER, study, Path.of("."), Optional.empty());
        assertThat(capacity.failedShare()).isZero();
        assertThat(capacity.beside()).isGreaterThan(20);
    }
}
