package kadrem.load.drive.graphql;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.plan.LoadStream;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Address;
import kadrem.core.study.Http;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Expectations;
import kadrem.core.study.Form;
import kadrem.core.study.StatusSet;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.Driver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Offer;
import kadrem.load.drive.Peer;
import kadrem.load.drive.PeerOrder;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.http.HttpDriver;
import kadrem.load.drive.http.HttpPeer;
import kadrem.load.drive.http.OverHttp;

/**
 * Queries and mutations as POST requests with a JSON body, to the path of the address. Errors that come with a status of 200 make a
 * call a failed one, unless the call says that they are expected. Source: "GraphQL over HTTP", working draft, sections 5 and 6.
 */
public final class GraphqlProtocol implements OverHttp {
    public static final String ID = "graphql";
    private static final ObjectMapper JSON = new ObjectMapper();

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "GraphQL";
    }

    @Override
    public String exampleAddress() {
        return "http://127.0.0.1:8080/graphql (with protocol: graphql)";
    }

    /** Only where the study says the protocol: the address is one of HTTP. */
    @Override
    public Optional<Address> address(String text) {
        Optional<Address> plain = Address.ofHost(text, ID, "http", "http", Address.usualPort(false));
        return plain.or(() -> Address.ofHost(text, ID, "http", "https", Address.usualPort(true)));
    }

    @Override
    public boolean isFoundByAddress() {
        return false;
    }

    @Override
    public boolean heedsWire() {
        return true;
    }

    @Override
    public List<Field> fields() {
        return List.of(
                Field.line("root", "begin with what the server has", "").asked(),
                Field.lines("query", "query or mutation", "query ($id: Int!) { berth(id: $id) { quay number } }")
                        .needed(),
                Field.json("variables", "variables", "{\"id\": {{berth}}}"),
                Field.line("operation", "operation, of several in the query", "OneBerth"),
                Field.choice("errors", "errors in the answer are", "failures", "accepted"));
    }

    /** The call of HTTP that asks what the form says. */
    static Call http(Call call, Address address) throws UnusableCall {
        Form form = call.form(ID)
                .orElseThrow(() -> new UnusableCall("the call " + call.name() + " is not asked in graphql"));
        try {
            String variables = form.text("variables").isBlank() ? "{}" : form.text("variables").strip();
            String body = "{\"query\":" + JSON.writeValueAsString(form.text("query").strip())
                    + (form.text("operation").isBlank()
                            ? ""
                            : ",\"operationName\":" + JSON.writeValueAsString(form.text("operation").strip()))
                    + ",\"variables\":" + variables + "}";
            var headers = new ArrayList<>(call.headers());
            headers.add(new Call.Header("Accept", "application/graphql-response+json, application/json;q=0.9"));
            var expected = new ArrayList<>(call.expected().content());
            if (!form.text("errors").equals("accepted")) {
                expected.addFirst(new Expectations.Expectation.NoJsonValue("$.errors[0]"));
            }
            return new Call(call.name(), "POST", address.basePath().isEmpty() ? "/" : "", headers,
                    new Body.Text(Body.Kind.JSON, body),
                    new Expectations(call.expected().status(), call.expected().within(), expected), call.captures(),
                    call.timeout(), call.thinkTime(), List.of(), call.answer());
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException("a text can be written as JSON", impossible);
        }
    }

    private static DriverOrder overHttp(DriverOrder order) throws UnusableCall {
        var first = new ArrayList<Call>();
        for (Call call : order.workload().first()) {
            first.add(http(call, order.address()));
        }
        var visits = new ArrayList<Visit>();
        for (Visit visit : order.workload().visits()) {
            var calls = new ArrayList<Call>();
            for (Call call : visit.calls()) {
                calls.add(http(call, order.address()));
            }
            visits.add(new Visit(visit.name(), visit.share(), visit.repeat(), calls));
        }
        Workload workload = new Workload(order.workload().values(), first, visits, order.workload().choice());
        return order.by(order.address().speaking(Http.ID), workload);
    }

    @Override
    public Optional<Peer> peer(PeerOrder order) {
        return Optional.of(HttpPeer.of(order));
    }

    @Override
    public Driver open(DriverOrder order) throws UnusableCall {
        return new HttpDriver(overHttp(order));
    }

    @Override
    public List<Offer> offers(DriverOrder order, String field) throws UnusableCall {
        Call asking = Call.of("schema", "POST", "")
                .with(Form.of(ID, Map.of("query", List.of(Schema.ASKS), "errors", List.of("accepted"))))
                .expecting(StatusSet.of(200));
        var workload = new Workload(List.of(), List.of(new Visit("schema", 1, List.of(asking))));
        try (Driver driver = open(order.asking(workload.in(ID))); var rehearser = driver.newRehearser()) {
            RehearsedCall answer = rehearser.call("", 0, new CallValues(new LoadStream(workload, 0, 0).newDraw(), 0));
            if (!answer.isGood()) {
                throw new UnusableCall("the server does not tell its schema: " + answer.detail());
            }
            return new Schema(JSON.readTree(answer.decoded().toArray()).path("data").path("__schema")).offers();
        } catch (IOException cause) {
            throw new UnusableCall("the server's schema cannot be read: " + cause.getMessage());
        }
    }
}
