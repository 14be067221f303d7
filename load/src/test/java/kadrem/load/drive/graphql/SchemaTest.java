package kadrem.load.drive.graphql;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import graphql.ErrorType;
import graphql.ExecutionInput;
import graphql.ExecutionResult;
import graphql.GraphQL;
import graphql.schema.idl.MockedWiringFactory;
import graphql.schema.idl.RuntimeWiring;
import graphql.schema.idl.SchemaGenerator;
import graphql.schema.idl.SchemaParser;
import kadrem.load.drive.Offer;
import org.junit.jupiter.api.Test;

/** Queries that are begun with are valid by graphql-java, which implements the specification. */
class SchemaTest {
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final GraphQL BOARD = GraphQL.newGraphQL(new SchemaGenerator().makeExecutableSchema(
            new SchemaParser().parse("""
                    type Query {
                      berth(id: Int!): Berth
                      free(day: String!, kinds: [Kind!]!, most: Int! = 20, near: Float): [Berth!]!
                      place(id: ID!): Place
                      count: Int
                      named(text: String!): Named
                    }
                    type Mutation { reserve(stay: StayInput!, quiet: Boolean!): Stay }
                    enum Kind { GUEST TRADE }
                    interface Named { name: String! }
                    type Quay implements Named { name: String! berths(day: String!): [Berth!]! }
                    type Berth { id: Int! quay: Quay! kind: Kind stays: [Stay!]! }
                    type Stay { berth: Berth! vessel: String! }
                    union Place = Quay | Berth
                    input StayInput { berth: Int! nights: Int! = 1 vessel: VesselInput! tags: [String!]! note: String }
                    input VesselInput { name: String! draught: Float! kind: Kind! }
                    type Only { needs(x: Int!): Int }
                    extend type Query { only: Only }
                    """), RuntimeWiring.newRuntimeWiring().wiringFactory(new MockedWiringFactory()).build())).build();

    private static List<Offer> offers() {
        JsonNode answer = JSON.valueToTree(BOARD.execute(Schema.ASKS).toSpecification());
        return new Schema(answer.path("data").path("__schema")).offers();
    }

    private static Offer offer(String text) {
        return offers().stream().filter(one -> one.text().equals(text)).findFirst().orElseThrow();
    }

    @Test
    void everyQueryAndItsVariablesAreValid() throws Exception {
        assertThat(offers()).hasSize(7);
        for (Offer offer : offers()) {
            String variables = offer.beside().get("variables");
            Map<String, Object> values = variables.isEmpty()
                    ? Map.of()
                    : JSON.readValue(variables, new TypeReference<Map<String, Object>>() {
                    });
            ExecutionResult result = BOARD.execute(ExecutionInput.newExecutionInput(offer.beside().get("query"))
                    .variables(values));
            // the made-up server has no data, so that fetching may fail; syntax, validation and variables may not
            assertThat(result.getErrors()).as(offer.beside().toString())
                    .allMatch(error -> error.getErrorType() == ErrorType.DataFetchingException
                            || error.getErrorType() == ErrorType.NullValueInNonNullableField);
        }
    }

    @Test
    void whatMustBeGivenIsAVariableAndWhatIsPlainIsAskedFor() {
        assertThat(offer("query free(day, kinds, most, near)").beside()).containsEntry("query",
                """
                        query ($day: String!, $kinds: [Kind!]!) {
                          free(day: $day, kinds: $kinds) {
                            id kind
                            quay {
                              name
                            }
                            stays {
                              vessel
                            }
                          }
                        }""")
                .containsEntry("variables", "{\"day\":\"\",\"kinds\":[\"GUEST\"]}");
        assertThat(offer("query count()").beside()).containsEntry("query", "query {\n  count\n}")
                .containsEntry("variables", "");
        assertThat(offer("query place(id)").beside().get("query")).contains("{ __typename }");
        assertThat(offer("query only()").beside().get("query")).isEqualTo("query {\n  only {\n    __typename\n  }\n}");
        assertThat(offer("mutation reserve(stay, quiet)").beside()).containsEntry("variables",
                "{\"stay\":{\"berth\":1,\"vessel\":{\"name\":\"\",\"draught\":1,\"kind\":\"GUEST\"},\"tags\":[\"\"]},"
                        + "\"quiet\":true}");
    }
}
