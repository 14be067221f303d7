package kadrem.load.drive.graphql;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Path;
import java.util.List;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.sun.net.httpserver.HttpServer;
import graphql.ExecutionInput;
import graphql.GraphQL;
import graphql.schema.idl.RuntimeWiring;
import graphql.schema.idl.SchemaGenerator;
import graphql.schema.idl.SchemaParser;
import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.Offer;
import kadrem.load.drive.Rehearsed;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A server that executes queries by graphql-java. */
class GraphqlDriverTest {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static HttpServer server;

    @TempDir
    Path folder;

    @BeforeAll
    static void start() throws IOException {
        GraphQL board = GraphQL.newGraphQL(new SchemaGenerator().makeExecutableSchema(new SchemaParser().parse("""
                type Query { berth(id: Int!): Berth }
                type Mutation { reserve(berth: Int!, vessel: String!): Boolean }
                type Berth { id: Int quay: String }
                """), RuntimeWiring.newRuntimeWiring().type("Query", type -> type.dataFetcher("berth", asked -> {
            int id = asked.getArgument("id");
            if (id > 2400) {
                throw new IllegalArgumentException("no such berth");
            }
            return java.util.Map.of("id", id, "quay", "Alder");
        })).type("Mutation", type -> type.dataFetcher("reserve", _ -> true)).build())).build();
        server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
        server.createContext("/graphql", exchange -> {
            JsonNode asked = JSON.readTree(exchange.getRequestBody());
            var input = ExecutionInput.newExecutionInput(asked.path("query").asText())
                    .operationName(asked.path("operationName").asText(null))
                    .variables(JSON.convertValue(asked.path("variables"),
                            new com.fasterxml.jackson.core.type.TypeReference<java.util.Map<String, Object>>() {
                            }));
            byte[] answer = JSON.writeValueAsBytes(board.execute(input).toSpecification());
            exchange.getResponseHeaders().set("Content-Type", "application/json");
            exchange.sendResponseHeaders(200, answer.length);
            try (var out = exchange.getResponseBody()) {
                out.write(answer);
            }
        });
        server.start();
    }

    @AfterAll
    static void stop() {
        server.stop(0);
    }

    private static Address board() {
        return Rehearsed.address("graphql", "http://127.0.0.1:" + server.getAddress().getPort() + "/graphql");
    }

    private static Call call(String... fields) {
        return Rehearsed.call("graphql", "c", fields);
    }

    private RehearsedCall one(Call call) throws Exception {
        return Rehearsed.all(Rehearsed.order(board(), Access.OPEN, Rehearsed.workload(call), folder)).getFirst();
    }

    private static final String BERTH = "query Berth($id: Int!) { berth(id: $id) { id quay } }\nquery Other { __typename }";

    @Test
    void variablesAndOperationAreSent() throws Exception {
        RehearsedCall made = one(call("query", BERTH, "variables", "{\"id\": 7}", "operation", "Berth"));
        assertThat(Rehearsed.body(made)).as(made.detail())
                .isEqualTo("{\"data\":{\"berth\":{\"id\":7,\"quay\":\"Alder\"}}}");
        assertThat(Rehearsed.body(one(call("query", BERTH, "operation", "Other")))).contains("\"Query\"");
        var workload = new Workload(List.of(new ValueList.NumberRange("berth", 1, 2400)), List.of(new Visit("v", 1,
                List.of(call("query", BERTH, "variables", "{\"id\": {{berth}}}", "operation", "Berth")))));
        Load load = Load.run(new LoadOrder(board(), Access.OPEN, workload, Load.arrivals(50, 50, 3), 7, 1),
                Transport.best());
        assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
    }

    @Test
    void errorsWithAStatusOf200AreFailures() throws Exception {
        RehearsedCall made = one(call("query", BERTH, "variables", "{\"id\": 9999}", "operation", "Berth"));
        assertThat(made.status()).isEqualTo(200);
        assertThat(made.failure()).contains(FailureKind.FAILED_EXPECTATION);
        assertThat(made.detail()).contains("$.errors[0]").contains("no such berth");
        assertThat(one(call("query", BERTH, "variables", "{\"id\": 9999}", "operation", "Berth", "errors", "accepted"))
                .failure()).isEmpty();
    }

    @Test
    void anAddressWithoutAPathIsAskedAtItsRoot() throws Exception {
        Address root = Rehearsed.address("graphql", "http://127.0.0.1:" + server.getAddress().getPort());
        RehearsedCall made = Rehearsed.all(
                Rehearsed.order(root, Access.OPEN, Rehearsed.workload(call("query", "{ __typename }")), folder))
                .getFirst();
        assertThat(made.request()).startsWith("POST / HTTP/1.1\r\n");
        assertThat(made.status()).as("nothing is there").isEqualTo(404);
    }

    @Test
    void theServerTellsItsFields() throws Exception {
        List<Offer> offers = new GraphqlProtocol().offers(
                Rehearsed.order(board(), Access.OPEN, Rehearsed.workload(), folder), "root");
        assertThat(offers).extracting(Offer::text).contains("query berth(id)", "mutation reserve(berth, vessel)");
        RehearsedCall begun = one(call("query", offers.getFirst().beside().get("query"), "variables",
                offers.getFirst().beside().get("variables")));
        assertThat(Rehearsed.body(begun)).as(begun.detail())
                .isEqualTo("{\"data\":{\"berth\":{\"id\":1,\"quay\":\"Alder\"}}}");
    }
}
