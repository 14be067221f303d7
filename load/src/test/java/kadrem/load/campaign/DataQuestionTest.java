package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Candidate;
import kadrem.load.gate.Allow;
import kadrem.load.drive.Rehearsed;
import kadrem.standins.berths.DatabaseService;
import kadrem.standins.berths.SqlService;
import kadrem.standins.berths.StoreService;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Candidates of several protocols tell what data they hold, and are put back in words of their own protocol. */
class DataQuestionTest {
    @TempDir
    Path folder;

    private static Candidate candidate(Address address, Optional<Candidate.Reset> reset, Candidate.Reset data) {
        return new Candidate("c", "C", address, Optional.empty(), Candidate.USUAL_READY, reset, Optional.empty(),
                Access.OPEN, List.of(), Optional.of(data));
    }

    @Test
    void aDatabaseAndAStoreHoldTheSameNumberOfBerths() throws Exception {
        try (DatabaseService database = DatabaseService.on(0, List.of());
                StoreService store = StoreService.on(0)) {
            var control = Allow.control(folder);
            Candidate sql = candidate(
                    Rehearsed.address("sql", "jdbc:h2:tcp://127.0.0.1:" + database.port() + "/board"),
                    Optional.of(new Candidate.ControlAsk("delete from berth where id > 2000")),
                    new Candidate.ControlAsk("select count(*) from berth"));
            Candidate keys = candidate(Rehearsed.address("resp", "redis://127.0.0.1:" + store.port()),
                    Optional.of(new Candidate.ControlAsk("FLUSHALL")), new Candidate.ControlAsk("DBSIZE"));
            assertThat(control.data(sql)).contains("2400");
            assertThat(control.data(keys)).contains("2400");
            Map<String, String> found = Fingerprint.of(sql, Optional.empty(), folder, control);
            assertThat(found).containsEntry("data", "2400").containsEntry("protocol", "SQL by JDBC");
            assertThat(found.get("server")).startsWith("H2 ");
            assertThat(Fingerprint.of(keys, Optional.empty(), folder, control)).containsEntry("server-name",
                    "berth-store");
            control.reset(sql);
            control.reset(keys);
            assertThat(control.data(sql)).as("after its reset").contains("2000");
            assertThat(control.data(keys)).contains("2400");
            Candidate wrong = candidate(sql.address(), Optional.of(new Candidate.ControlAsk("delete from nowhere")),
                    new Candidate.ControlAsk("x"));
            assertThatThrownBy(() -> control.reset(wrong)).isInstanceOf(CandidateFailure.class)
                    .hasMessageContaining("its reset \"delete from nowhere\" failed").hasMessageContaining("NOWHERE");
        }
    }

    @Test
    void aServiceIsAskedByACallAndACommandTellsWhatItPrints() throws Exception {
        try (SqlService service = SqlService.onPool(0).start()) {
            var control = Allow.control(folder);
            var address = new Address("127.0.0.1", service.port(), "");
            assertThat(control.data(candidate(address, Optional.empty(),
                    new Candidate.ControlCall("GET", "/admin/version"))))
                    .contains("{\"version\":\"berth-board 1.0.0\"}");
            assertThat(control.data(candidate(address.speaking("websocket"), Optional.empty(),
                    new Candidate.ControlCall("GET", "/admin/version"))))
                    .as("a path is asked over HTTP, whatever else is spoken")
                    .contains("{\"version\":\"berth-board 1.0.0\"}");
            assertThat(control.data(candidate(address, Optional.empty(),
                    new Candidate.ControlCommand(List.of("echo", "2400 berths"))))).contains("2400 berths");
            assertThatThrownBy(() -> control.data(candidate(address, Optional.empty(),
                    new Candidate.ControlAsk("select 1")))).hasMessageContaining("it speaks HTTP; give a path");
        }
    }

    /** A ready probe that the study names is asked over HTTP where a protocol begins with it; without one a connection is enough. */
    @ParameterizedTest
    @ValueSource(strings = {"graphql", "events", "websocket", "http"})
    void aReadyProbeIsAskedWhereItIsNamed(String protocol) throws Exception {
        try (SqlService service = SqlService.onPool(0).start()) {
            var control = Allow.control(folder);
            Address address = new Address("127.0.0.1", service.port(), "").speaking(protocol);
            assertThat(control.probe(asking(address, "/health")))
                    .isEqualTo(new Control.Probe(Control.Answer.READY, "200"));
            assertThat(control.probe(asking(address, "/nowhere")))
                    .isEqualTo(new Control.Probe(Control.Answer.NOT_READY,
                            "it answered with status 404 and application/json: {\"error\":\"no such address\"}"));
            assertThat(Fingerprint.of(asking(address, "/health"), Optional.empty(), folder, control))
                    .containsEntry("version", "{\"version\":\"berth-board 1.0.0\"}");
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"graphql", "events", "websocket"})
    void withoutOneAConnectionIsEnough(String protocol) throws Exception {
        try (SqlService service = SqlService.onPool(0).start()) {
            var control = Allow.control(folder);
            var address = new Address(protocol, "http", "127.0.0.1", service.port(), "/live", false);
            assertThat(control.probe(asking(address, Candidate.USUAL_READY)))
                    .isEqualTo(new Control.Probe(Control.Answer.READY, ""));
            assertThat(control.probe(asking(address, "/health"))).as("the path of the address is another's")
                    .isEqualTo(new Control.Probe(Control.Answer.READY, "200"));
            assertThat(Control.probed(asking(address, "/health")))
                    .isEqualTo("http://127.0.0.1:" + service.port() + "/health");
        }
    }

    private static Candidate asking(Address address, String ready) {
        return new Candidate("c", "C", address, Optional.empty(), ready, Optional.empty(),
                Optional.of("/admin/version"), Access.OPEN, List.of(), Optional.empty());
    }
}
