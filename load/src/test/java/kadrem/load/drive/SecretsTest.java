package kadrem.load.drive;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;

import kadrem.core.study.SecretReference;
import kadrem.load.content.UnusableCall;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

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

    /** As a candidate may send it back: from an address, a form, JSON, XML, a header of Basic sign-in. */
    @ParameterizedTest
    @ValueSource(strings = {"p\"ss wörd&<1>/+?", "p%22ss+w%C3%B6rd%26%3C1%3E%2F%2B%3F",
            "p%22ss%20w%C3%B6rd%26%3C1%3E%2F%2B%3F", "p\\\"ss wörd&<1>/+?", "p&quot;ss wörd&amp;&lt;1&gt;/+?",
            "cCJzcyB3w7ZyZCY8MT4vKz8=", "cCJzcyB3w7ZyZCY8MT4vKz8"})
    void aSecretIsTakenOutInEachFormInWhichItIsSent(String form) throws Exception {
        var secrets = new Secrets(Map.of("PASSWORD", "p\"ss wörd&<1>/+?"), folder);
        secrets.resolve(SecretReference.parse("env:PASSWORD"));
        assertThat(secrets.mask("<" + form + ">")).isEqualTo("<(secret)>");
        byte[] sent = ("\0\u00ff<" + form + ">").getBytes(StandardCharsets.UTF_8);
        assertThat(secrets.mask(sent)).isEqualTo("\0\u00ff<(secret)>".getBytes(StandardCharsets.UTF_8));
    }

    /** One that is the beginning of another leaves nothing of it. */
    @Test
    void theLongerSecretIsTakenOutFirst() {
        var secrets = new Secrets(Map.of(), folder);
        secrets.remember("pass");
        secrets.remember("password");
        assertThat(secrets.mask("a password")).isEqualTo("a (secret)");
    }

    @Test
    void aVeryShortSecretDoesNotTakeTextsApart() throws Exception {
        var secrets = new Secrets(Map.of("PIN", "1"), folder);
        secrets.resolve(SecretReference.parse("env:PIN"));
        assertThat(secrets.mask("berth 11")).isEqualTo("berth 11");
    }
}
