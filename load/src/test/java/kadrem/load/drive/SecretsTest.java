package kadrem.load.drive;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;

import kadrem.core.study.SecretReference;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SecretsTest {
    @TempDir
    private Path folder;

    @Test
    void secretsAreReadWhereTheStudySaysAndMaskedEverywhere() throws Exception {
        Files.writeString(folder.resolve("key"), "file-key-1\nsecond line\n");
        var secrets = new Secrets(Map.of("TOKEN", "env-token-1"), folder);
        assertThat(secrets.mask("env-token-1")).as("not known yet").isEqualTo("env-token-1");
        assertThat(secrets.resolve(SecretReference.parse("env:TOKEN"))).isEqualTo("env-token-1");
        assertThat(secrets.resolve(SecretReference.parse("file:key"))).isEqualTo("file-key-1");
        secrets.remember("made-token");
        assertThat(secrets.mask("a env-token-1 b file-key-1 c made-token"))
                .isEqualTo("a (secret) b (secret) c (secret)");
        assertThat(secrets.folder()).isEqualTo(folder);
    }

    @Test
    void missingOnesAreToldWithoutGuessing() {
        var secrets = new Secrets(Map.of(), folder);
        assertThatThrownBy(() -> secrets.resolve(SecretReference.parse("env:TOKEN")))
                .isInstanceOf(UnusableCall.class).hasMessageContaining("TOKEN is not set");
        assertThatThrownBy(() -> secrets.resolve(SecretReference.parse("file:none")))
                .isInstanceOf(UnusableCall.class).hasMessageContaining("none cannot be read");
    }

    @Test
    void aVeryShortSecretDoesNotTakeTextsApart() throws Exception {
        var secrets = new Secrets(Map.of("PIN", "1"), folder);
        secrets.resolve(SecretReference.parse("env:PIN"));
        assertThat(secrets.mask("berth 11")).isEqualTo("berth 11");
    }
}
