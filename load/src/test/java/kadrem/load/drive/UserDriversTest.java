package kadrem.load.drive;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.net.URLClassLoader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.Map;

import kadrem.core.study.Protocol;
import kadrem.core.study.Protocols;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class UserDriversTest {
    @TempDir
    Path folder;

    @Test
    void jarsOfTheFolderAreSeenAndOtherFilesAreNot() throws Exception {
        assertThat(UserDrivers.loader(folder.resolve("none"))).isSameAs(UserDrivers.class.getClassLoader());
        assertThat(UserDrivers.loader(folder)).isSameAs(UserDrivers.class.getClassLoader());
        Files.writeString(folder.resolve("b.jar"), "not a jar, which is told when it is looked into");
        Files.writeString(folder.resolve("a.jar"), "");
        Files.writeString(folder.resolve("notes.txt"), "");
        try (var loader = (URLClassLoader) UserDrivers.loader(folder)) {
            assertThat(loader.getURLs()).extracting(url -> Path.of(url.toURI()).getFileName().toString())
                    .containsExactly("a.jar", "b.jar");
        }
    }

    @Test
    void aDatabaseWithoutADriverIsToldWithTheMend() throws Exception {
        assertThat(Databases.driver("jdbc:h2:mem:x").getClass().getName()).isEqualTo("org.h2.Driver");
        assertThat(Databases.driver("jdbc:postgresql://127.0.0.1/x").getClass().getName()).startsWith("org.postgresql");
        assertThatThrownBy(() -> Databases.connect("jdbc:berths:x", "", "", new Secrets(Map.of(), folder), Map.of()))
                .isInstanceOf(SQLException.class).hasMessageContaining("kadrem driver GROUP:ARTIFACT:VERSION");
    }

    @Test
    void allThatShipAreThereAndNoneIsBroken() {
        assertThat(Protocols.broken()).isEmpty();
        assertThat(Protocols.all()).extracting(Protocol::id).containsExactly("http", "amqp", "bytes", "command",
                "events",
                "graphql", "grpc", "kafka", "mqtt", "resp", "sql", "websocket");
        assertThat(Protocols.all()).filteredOn(one -> one instanceof ProtocolDriver driver && driver.waitsOnThreads())
                .as("those with a client that waits").extracting(Protocol::id)
                .containsExactly("amqp", "bytes", "command", "events", "kafka", "mqtt", "sql");
        assertThat(Protocols.all()).as("each makes load").allMatch(ProtocolDriver.class::isInstance);
    }
}
