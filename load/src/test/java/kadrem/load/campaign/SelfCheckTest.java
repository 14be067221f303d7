package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

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
import kadrem.core.study.Form;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Metric;
import kadrem.core.study.Plan;
import kadrem.core.study.Protocol;
import kadrem.core.study.Protocols;
import kadrem.core.study.Question;
import kadrem.core.study.StatusSet;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Course;
import kadrem.core.study.Crowd;
import kadrem.core.study.Crowds;
import kadrem.core.study.Entrance;
import kadrem.core.study.Shape;
import kadrem.core.study.ThinkTime;
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

    private static MeasuredStudy study(Call... calls) {
        return study(new Address("127.0.0.1", 1, ""), Access.OPEN, calls);
    }

    private static MeasuredStudy study(Address address, Access access, Call... calls) {
        var candidate = new Candidate("a", "A", address, Optional.empty(), "/", Optional.empty(), Optional.empty(),
                access);
        return new MeasuredStudy("s", new Question("?", "a", 0.05, List.of(new Question.Decider(Metric.P99, 0.1))),
                List.of(candidate), new Workload(List.of(), List.of(new Visit("v", 1, List.of(calls)))),
                new LoadProfile.Closed(4, Duration.ofSeconds(3), Duration.ofSeconds(1), Duration.ofSeconds(5),
                        Duration.ofSeconds(5)),
                new Plan(1, 3, Duration.ZERO));
    }

    /** One second of it: what a machine can make at most is not asked here. */
    private static Optional<Capacity> tried(MeasuredStudy study) throws Exception {
        return SelfCheck.of(LocalLoad.MAKER, study, Path.of("."), Optional.empty(), 1);
    }

    private static RehearsedCall answer(String call, String body) {
        Bytes bytes = Bytes.of(body.getBytes(java.nio.charset.StandardCharsets.UTF_8));
        return new RehearsedCall("v", call, "GET", 200, List.of(new Call.Header("Content-Type", "application/json")),
                body.length(), bytes, bytes, "", Timeline.NONE, Optional.empty(), "");
    }

    /** Captured values and expectations cost what they will cost, and none fails: the peer answers as in the rehearsal. */
    @Test
    void thePeerAnswersAsRehearsed() throws Exception {
        MeasuredStudy study = study(LIST, ONE);
        var rehearsal = new Rehearsal(Instant.EPOCH, LoadDigest.of(study),
                List.of(new Rehearsal.OfCandidate("a",
                        List.of(answer("list", "{\"berths\":[{\"id\":7}]}"), answer("one", "{\"name\":\"Pier 7\"}")),
                        "")),
                List.of());
        Capacity capacity = SelfCheck.of(LocalLoad.MAKER, study, Path.of("."), Optional.of(rehearsal)).orElseThrow();
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
        MeasuredStudy study = study(new Address("127.0.0.1", 1, "", secure),
                Access.over(Wire.USUAL.withProtocol(protocol, 1).withReuse(reuse)), Call.of("one", "GET", "/berths/7"));
        Capacity capacity = tried(study).orElseThrow();
        assertThat(capacity.failedShare()).isZero();
        assertThat(capacity.beside()).isPositive();
    }

    private static Address spoken(String text) {
        return Protocols.all().stream().filter(Protocol::isFoundByAddress).flatMap(one -> one.address(text).stream())
                .findFirst().orElseThrow();
    }

    /** Protocols of which Kadrem has a peer: what is sent to it are calls of that protocol, and each is good. */
    @ParameterizedTest
    @CsvSource(delimiter = ';', value = {"redis://127.0.0.1:6379; commands; GET berth:7",
            "rediss://127.0.0.1:6379; commands; GET berth:7", "tcp://127.0.0.1:7000; send; TIDE 7\\n",
            "tls://127.0.0.1:7000; send; TIDE 7\\n", "ws://127.0.0.1:8080/live; send; {\"berth\": 7}",
            "wss://127.0.0.1:8080; send; {\"berth\": 7}", "grpc://127.0.0.1:50051; method; harbour.BerthBoard/GetBerth",
            "grpcs://127.0.0.1:50051; method; harbour.BerthBoard/GetBerth"})
    void otherProtocolsHavePeersOfTheirOwn(String text, String field, String words) throws Exception {
        Address address = spoken(text);
        Call call = Call.of("one", "GET", "").with(Form.of(address.protocol(), Map.of(field, List.of(words))));
        MeasuredStudy study = study(address,
                Access.with(Map.of("descriptors", List.of("../rpc/src/main/protobuf/berths.proto"))),
                call);
        Capacity capacity = tried(study).orElseThrow();
        assertThat(capacity.failedShare()).isZero();
        assertThat(capacity.beside()).isPositive();
        assertThat(capacity.sentence()).contains("with the shortest answers of its protocol");
    }

    @Test
    void graphqlIsAnsweredOverItsOwnWire() throws Exception {
        Call call = Call.of("one", "GET", "")
                .with(Form.of("graphql", Map.of("query", List.of("{ berth(id: 7) { quay } }"))));
        MeasuredStudy study = study(new Address("127.0.0.1", 1, "/graphql", true).speaking("graphql"), Access.OPEN,
                call);
        assertThat(tried(study).orElseThrow().failedShare())
                .isZero();
    }

    /** A message that nobody would send, and a database that speaks its driver's language. */
    @Test
    void ofWhatNoPeerCanAnswerNothingIsSaid() throws Exception {
        MeasuredStudy live = study(spoken("ws://127.0.0.1:8080"), Access.OPEN,
                Call.of("one", "GET", "")
                        .with(Form.of("websocket", Map.of("does", List.of("only waits")))));
        assertThat(tried(live)).isEmpty();
        MeasuredStudy table = study(spoken("jdbc:h2:mem:none"), Access.OPEN, Call.of("one", "GET", "")
                .with(Form.of("sql", Map.of("statement", List.of("select 1")))));
        assertThat(tried(table)).isEmpty();
    }

    /** Compressed messages take other code of the generator's than plain ones, a secret does not. */
    @Test
    void candidatesThatChooseOtherwiseAreReachedInAnotherWay() {
        Address live = spoken("ws://127.0.0.1:8080/live");
        List<Candidate> candidates = Stream
                .of(Map.of("compress", List.of("true")), Map.of("compress", List.of("false")),
                        Map.<String, List<String>>of(),
                        Map.of("compress", List.of("true"), "subprotocol", List.of("board")))
                .map(settings -> new Candidate("c" + settings, "C", live, Optional.empty(), "/", Optional.empty(),
                        Optional.empty(), Access.with(settings)))
                .toList();
        assertThat(SelfCheck.oneOfEachWay(candidates)).containsExactly(candidates.get(0), candidates.get(1));
    }

    /** Of candidates over several protocols the sentence claims no more than was tried. */
    @Test
    void whatHasNoPeerIsNamed() throws Exception {
        MeasuredStudy one = study(Call.of("one", "GET", "/berths/7")
                .with(Form.of("sql", Map.of("statement", List.of("select 1")))));
        var table = new Candidate("b", "B", spoken("jdbc:h2:mem:none"), Optional.empty(), "/", Optional.empty(),
                Optional.empty(), Access.OPEN);
        var both = new MeasuredStudy(one.name(), one.question(), List.of(one.candidates().getFirst(), table),
                one.workload(),
                one.load(), one.plan());
        assertThat(tried(both).orElseThrow().sentence()).contains("of those candidates of which Kadrem has a peer")
                .endsWith("Not tried: " + Protocols.byId("sql").orElseThrow().words() + ".");
    }

    /** Each protocol in which crowds ask a candidate is tried, even where none asks at its address. */
    @Test
    void crowdsThatAreAnsweredElsewhereAreTriedThere() throws Exception {
        Call list = Call.of("list", "GET", "/berths");
        Call told = Call.of("telegram", "", "").with(new Form("resp", Map.of("commands", List.of("PING")),
                Optional.empty(), Optional.empty(), Optional.empty()));
        Course course = Course.of(Duration.ZERO, Duration.ofSeconds(5));
        var shape = Shape.flat(Duration.ofSeconds(1), 2);
        var crowd = new LoadProfile.Closed(shape, ThinkTime.NONE, Optional.empty(), course);
        MeasuredStudy one = study(list, told);
        Candidate plain = one.candidates().getFirst();
        var workload = new Workload(List.of(),
                List.of(new Visit("browse", 1, List.of(list)), new Visit("tell", 1, List.of(told))));
        for (String withHttp : List.of("readers", "nobody")) {
            var elsewhere = new LinkedHashMap<String, Entrance>();
            elsewhere.put("tellers", new Entrance(spoken("redis://127.0.0.1:6379"), Access.OPEN));
            var candidate = new Candidate("a", "A", plain.address(), Optional.empty(), "/", Optional.empty(),
                    Optional.empty(), Access.OPEN, List.of(), Optional.empty(), elsewhere);
            List<Crowd> crowds = withHttp.equals("readers")
                    ? List.of(new Crowd("readers", List.of("browse"), Optional.empty(), Duration.ZERO, shape, crowd),
                            new Crowd("tellers", List.of("tell"), Optional.empty(), Duration.ZERO, shape, crowd))
                    : List.of(new Crowd("tellers", List.of("tell"), Optional.empty(), Duration.ZERO, shape, crowd));
            Workload made = withHttp.equals("readers")
                    ? workload
                    : new Workload(List.of(), List.of(workload.visits().getLast()));
            MeasuredStudy study = one.withCandidates(List.of(candidate)).withWorkload(made)
                    .withLoad(new Crowds(crowds, course));
            Capacity capacity = tried(study).orElseThrow();
            assertThat(capacity.failedShare()).as(withHttp).isZero();
            assertThat(capacity.beside()).isPositive();
        }
    }
}
