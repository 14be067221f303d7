package kadrem.load.drive.grpc;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import com.google.protobuf.DescriptorProtos.FileDescriptorSet;
import io.grpc.Metadata;
import io.grpc.Server;
import io.grpc.ServerCall;
import io.grpc.ServerCallHandler;
import io.grpc.ServerInterceptor;
import io.grpc.Status;
import io.grpc.netty.NettyServerBuilder;
import io.grpc.stub.StreamObserver;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.Difference;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Agreement;
import kadrem.core.study.AnswerPart;
import kadrem.core.study.Call;
import kadrem.core.study.Capture;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Wire;
import kadrem.core.study.Workload;
import kadrem.fixtures.Ports;
import kadrem.load.content.AnswerComparison;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Offer;
import kadrem.load.drive.Rehearsed;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import kadrem.rpc.BerthBoardGrpc;
import kadrem.rpc.BerthReply;
import kadrem.rpc.BerthRequest;
import kadrem.rpc.Berths;
import kadrem.standins.berths.GrpcService;
import kadrem.standins.berths.SqlService;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Calls to a real gRPC server: grpc-java's, which the stand-in is made of. */
class GrpcDriverTest {
    @TempDir
    static Path folder;
    private static GrpcService service;

    @BeforeAll
    static void start() throws IOException {
        service = GrpcService.on(0);
    }

    @AfterAll
    static void stop() {
        service.close();
    }

    private static Address here() {
        return at(service.port());
    }

    private static Address at(int port) {
        return Rehearsed.address("grpc", "grpc://127.0.0.1:" + port);
    }

    private static Call call(String name, String... fields) {
        return Rehearsed.call("grpc", name, fields);
    }

    private static DriverOrder order(Address address, Call... calls) {
        return Rehearsed.order(address, Access.OPEN, Rehearsed.workload(calls), folder);
    }

    private static RehearsedCall one(Address address, Call call) throws UnusableCall {
        return Rehearsed.all(order(address, call)).getFirst();
    }

    @Test
    void theSameAnswersComeOverRestAndGrpc() throws Exception {
        try (SqlService rest = SqlService.onPool(0).start(); HttpClient client = HttpClient.newHttpClient()) {
            AnswerComparison comparison = AnswerComparison.under(Agreement.EXACT);
            var known = new ArrayList<String>();
            for (String[] pair : List.of(
                    new String[]{"/berths/77", "harbour.BerthBoard/GetBerth", "{\"id\": 77}"},
                    new String[]{"/berths?day=2026-07-14", "harbour.BerthBoard/FreeBerths",
                            "{\"day\": \"2026-07-14\"}"},
                    new String[]{"/tides/north-mole?day=2026-07-14", "harbour.BerthBoard/GetTides",
                            "{\"station\": \"north-mole\", \"day\": \"2026-07-14\"}"})) {
                HttpResponse<String> http = client.send(
                        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + rest.port() + pair[0])).build(),
                        HttpResponse.BodyHandlers.ofString());
                Call asked = Call.of("c", "GET", pair[0]);
                RehearsedCall overHttp = Rehearsed.all(new DriverOrder(new Address("127.0.0.1", rest.port(), ""),
                        Access.OPEN, Rehearsed.workload(asked), java.time.Duration.ofSeconds(20),
                        new kadrem.load.drive.Secrets(Map.of(), folder), Transport.best())).getFirst();
                RehearsedCall overGrpc = one(here(), call("c", "method", pair[1], "message", pair[2]));
                assertThat(http.statusCode()).as(pair[0]).isIn(200, 404);
                assertThat(overGrpc.isGood()).as(overGrpc.detail()).isEqualTo(http.statusCode() == 200);
                List<Difference> differences = comparison.compareAcross("grpc",
                        new AnswerComparison.Side(overHttp, AnswerPart.WHOLE),
                        new AnswerComparison.Side(overGrpc, AnswerPart.WHOLE));
                if (http.statusCode() == 200 && differences.isEmpty()) {
                    known.add(pair[1]);
                }
            }
            assertThat(known).as("answered, and answered alike").hasSize(3);
        }
    }

    @Test
    void valuesAreFilledInAndCapturedAndNothingIsLostUnderLoad() {
        Call find = call("find", "method", "harbour.BerthBoard/GetBerth", "message", "{\"id\": {{berth}}}")
                .capturing(new Capture("number", new Capture.Source.Json("$.number")));
        Call book = call("book", "method", "harbour.BerthBoard/Reserve", "message",
                "{\"berth\": {{number}}, \"day\": \"2027-03-01\", \"nights\": 1, \"vessel\": \"Tern {{number}}\"}",
                "codes", "OK, ALREADY_EXISTS");
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 2400)),
                List.of(new Visit("v", 1, List.of(find, book))));
        for (int streams : new int[]{1, 4}) {
            Access access = Access.over(Wire.USUAL.withProtocol(Wire.Protocol.HTTP_2, streams));
            Load load = Load.run(new LoadOrder(here(), access, workload, Load.arrivals(80, 80, 4), 7, 1),
                    Transport.best());
            assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
            assertThat(load.figures.good()).isEqualTo(160);
        }
    }

    /** Source of the names and numbers: gRPC, doc/statuscodes.md. */
    @ParameterizedTest
    @EnumSource(value = Status.Code.class, names = "OK", mode = EnumSource.Mode.EXCLUDE)
    void everyStatusCodeIsAnErrorOfItsOwnName(Status.Code code) throws Exception {
        try (var server = new Answering(code.toStatus().withDescription("because"))) {
            RehearsedCall call = one(at(server.port()), call("c", "method", "harbour.BerthBoard/GetBerth"));
            assertThat(call.failure()).contains(FailureKind.UNEXPECTED_STATUS);
            assertThat(GrpcStatus.word(call.status())).isEqualTo(code.name());
            assertThat(call.detail()).isEqualTo(code.name() + ": because, and not OK");
            RehearsedCall wanted = one(at(server.port()),
                    call("c", "method", "harbour.BerthBoard/GetBerth", "codes", "OK " + code.name()));
            assertThat(wanted.failure()).as(wanted.detail()).isEmpty();
        }
    }

    @Test
    void theNumbersOfStatusCodesAreThoseOfTheProtocol() {
        assertThat(GrpcStatus.word(1005)).isEqualTo("NOT_FOUND");
        assertThat(GrpcStatus.word(1014)).isEqualTo("UNAVAILABLE");
        assertThat(GrpcStatus.word(1016)).isEqualTo("UNAUTHENTICATED");
        assertThat(GrpcStatus.number(Status.OK)).isEqualTo(1000);
    }

    @Test
    void streamsInEachDirection() throws Exception {
        RehearsedCall server = one(here(), call("s", "method", "harbour.BerthBoard/StreamTides", "message",
                "{\"station\": \"" + station() + "\", \"day\": \"2026-07-14\"}"));
        assertThat(server.failure()).as(server.detail()).isEmpty();
        assertThat(Rehearsed.body(server)).startsWith("[{\"time\":\"00:00\"").endsWith("}]");
        RehearsedCall client = one(here(), call("c", "method", "harbour.BerthBoard/ReserveAll",
                "messages", "{\"berth\": 5, \"day\": \"2027-05-01\", \"nights\": 2, \"vessel\": \"Skua\"}",
                "messages", "{\"berth\": 5, \"day\": \"2027-05-02\", \"nights\": 2, \"vessel\": \"Petrel\"}"));
        assertThat(Rehearsed.body(client)).as(client.detail()).isEqualTo("{\"booked\":1,\"taken\":1}");
        for (String pace : List.of("at once", "after each answer")) {
            RehearsedCall both = one(here(), call("b", "method", "harbour.BerthBoard/AskBerths", "pace", pace,
                    "messages", "{\"id\": 1}", "messages", "{\"id\": 2}", "messages", "{\"id\": 3}"));
            assertThat(Rehearsed.body(both)).as(pace + both.detail()).contains("\"id\":1,").contains("\"id\":3,");
        }
    }

    private static String station() {
        for (String name : List.of("north-mole", "north", "outer", "harbour", "bar")) {
            try {
                if (one(here(), call("c", "method", "harbour.BerthBoard/GetTides", "message",
                        "{\"station\": \"" + name + "\", \"day\": \"2026-07-14\"}")).isGood()) {
                    return name;
                }
            } catch (UnusableCall cause) {
                throw new AssertionError(cause);
            }
        }
        throw new AssertionError("no such station");
    }

    @Test
    void descriptionsComeFromADescriptorSetOrFromProtoFiles() throws Exception {
        Path set = folder.resolve("berths.desc");
        Files.write(set,
                FileDescriptorSet.newBuilder().addFile(Berths.getDescriptor().toProto()).build().toByteArray());
        Path proto = folder.resolve("berths.proto");
        Files.copy(Path.of("..", "rpc", "src", "main", "protobuf", "berths.proto"), proto);
        try (var server = new Answering(Status.NOT_FOUND)) {
            for (String file : List.of("berths.desc", "berths.proto")) {
                Access access = Access.with(Map.of("descriptors", List.of(file)));
                RehearsedCall call = Rehearsed.all(Rehearsed.order(at(server.port()), access, Rehearsed.workload(
                        call("c", "method", "harbour.BerthBoard/GetBerth", "message", "{\"id\": 1}")), folder))
                        .getFirst();
                assertThat(GrpcStatus.word(call.status())).as(file + call.detail()).isEqualTo("NOT_FOUND");
                assertThat(
                        Descriptions.offered(Rehearsed.order(at(Ports.free()), access, Rehearsed.workload(), folder)))
                        .as("nobody is asked")
                        .extracting(Offer::text).contains("harbour.BerthBoard/GetBerth").hasSize(7);
            }
        }
        assertThat(Descriptions.offered(order(here()))).extracting(Offer::text).contains("harbour.BerthBoard/GetBerth",
                "harbour.BerthBoard/AskBerths");
    }

    @Test
    void whatCannotBeUsedIsToldWithTheMend() throws Exception {
        Files.writeString(folder.resolve("wrong.proto"), "syntax = \"proto3\";\nmessage A { strin x = 1; }\n");
        Access wrong = Access.with(Map.of("descriptors", List.of("wrong.proto")));
        Call call = call("c", "method", "harbour.BerthBoard/GetBerth");
        assertThatThrownBy(() -> Rehearsed.all(Rehearsed.order(here(), wrong, Rehearsed.workload(call), folder)))
                .hasMessageContaining("wrong.proto").hasMessageContaining("\"strin\" is not defined");
        assertThatThrownBy(() -> one(here(), call("c", "method", "harbour.BerthBoard/Nothing")))
                .hasMessageContaining("has no method Nothing; it has FreeBerths, GetBerth");
        assertThatThrownBy(() -> one(here(), call("c", "method", "harbour.Other/GetBerth")))
                .hasMessageContaining("harbour.Other");
        assertThatThrownBy(() -> one(here(), call("c", "method", "harbour.BerthBoard/GetBerth", "message",
                "{\"berth\": 1}"))).hasMessageContaining("none of harbour.BerthRequest").hasMessageContaining("berth");
        try (var server = new Answering(Status.OK, false)) {
            assertThatThrownBy(() -> one(at(server.port()), call)).hasMessageContaining("it has no reflection");
        }
    }

    @Test
    void aDeadlineIsSentAndNobodyListeningIsToldAsRefused() throws Exception {
        try (var server = new Answering(null)) {
            RehearsedCall late = one(at(server.port()),
                    call("c", "method", "harbour.BerthBoard/GetBerth", "deadline", "80ms"));
            assertThat(GrpcStatus.word(late.status())).as(late.detail()).isEqualTo("DEADLINE_EXCEEDED");
            assertThat(server.timeout).as("the header grpc-timeout").matches("\\d+[mun]");
        }
        int port = Ports.free();
        Files.write(folder.resolve("set.desc"),
                FileDescriptorSet.newBuilder().addFile(Berths.getDescriptor().toProto()).build().toByteArray());
        Access access = Access.with(Map.of("descriptors", List.of("set.desc")));
        RehearsedCall refused = Rehearsed.all(Rehearsed.order(at(port), access,
                Rehearsed.workload(call("c", "method", "harbour.BerthBoard/GetBerth")), folder)).getFirst();
        assertThat(refused.failure()).as(refused.detail()).contains(FailureKind.REFUSED);
    }

    @Test
    void signInAndMetadataAreSent() throws Exception {
        try (var server = new Answering(Status.OK)) {
            var access = new Access(new SignIn.Bearer("{{env:BERTH_TOKEN}}"), Tls.USUAL);
            Call call = call("c", "method", "harbour.BerthBoard/GetBerth")
                    .withHeaders(List.of(new Call.Header("x-harbour", "north")));
            RehearsedCall made = Rehearsed
                    .all(Rehearsed.order(at(server.port()), access, Rehearsed.workload(call), folder))
                    .getFirst();
            assertThat(made.failure()).as(made.detail()).isEmpty();
            assertThat(server.authorization).isEqualTo("Bearer tok-31415");
            assertThat(server.harbour).isEqualTo("north");
            assertThat(made.request()).contains("x-harbour: north").doesNotContain("tok-31415");
        }
    }

    /** Answers each call with one status, or never. */
    private static final class Answering implements AutoCloseable {
        private final Server server;
        private String timeout = "";
        private String authorization = "";
        private String harbour = "";

        Answering(@org.jspecify.annotations.Nullable Status status) throws IOException {
            this(status, true);
        }

        Answering(@org.jspecify.annotations.Nullable Status status, boolean reflection) throws IOException {
            var board = new BerthBoardGrpc.BerthBoardImplBase() {
                @Override
                public void getBerth(BerthRequest asked, StreamObserver<BerthReply> answer) {
                    if (status != null && status.isOk()) {
                        answer.onNext(BerthReply.getDefaultInstance());
                        answer.onCompleted();
                    } else if (status != null) {
                        answer.onError(status.asRuntimeException());
                    }
                }
            };
            NettyServerBuilder builder = NettyServerBuilder
                    .forAddress(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0)).addService(board)
                    .intercept(new Looking());
            if (reflection) {
                builder.addService(io.grpc.protobuf.services.ProtoReflectionServiceV1.newInstance());
            }
            server = builder.build().start();
        }

        int port() {
            return server.getPort();
        }

        @Override
        public void close() {
            server.shutdownNow();
        }

        private final class Looking implements ServerInterceptor {
            @Override
            public <Q, A> ServerCall.Listener<Q> interceptCall(ServerCall<Q, A> call, Metadata headers,
                    ServerCallHandler<Q, A> next) {
                if (call.getMethodDescriptor().getFullMethodName().startsWith("harbour.")) {
                    timeout = text(headers, "grpc-timeout");
                    authorization = text(headers, "authorization");
                    harbour = text(headers, "x-harbour");
                }
                return next.startCall(call, headers);
            }

            private static String text(Metadata headers, String name) {
                return Optional.ofNullable(headers.get(Metadata.Key.of(name, Metadata.ASCII_STRING_MARSHALLER)))
                        .orElse("");
            }
        }
    }
}
