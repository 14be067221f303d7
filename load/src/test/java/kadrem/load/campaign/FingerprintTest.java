package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledOnOs;
import org.junit.jupiter.api.condition.OS;
import org.junit.jupiter.api.io.TempDir;

class FingerprintTest {
    @TempDir
    private Path folder;

    /** The files of a control group as the kernel's documentation (Control Group v2) describes them. */
    @Test
    void limitsOfAContainerAreFound() throws Exception {
        Files.createDirectories(folder.resolve("group/board"));
        Files.writeString(folder.resolve("group/board/cpu.max"), "150000 100000\n");
        Files.writeString(folder.resolve("group/board/memory.max"), "536870912\n");
        Files.writeString(folder.resolve("membership"), "0::/board\n");
        Map<String, String> found = new LinkedHashMap<>();
        Fingerprint.limits(found, folder.resolve("membership"), folder.resolve("group"));
        assertThat(found).containsExactly(Map.entry("cgroup-cpu.max", "150000 100000"),
                Map.entry("cgroup-memory.max", "536870912"));
        Map<String, String> none = new LinkedHashMap<>();
        Fingerprint.limits(none, folder.resolve("nowhere"), folder);
        assertThat(none).isEmpty();
    }

    private Path program(String name, String text) throws Exception {
        Path program = folder.resolve(name);
        Files.writeString(program, text, StandardCharsets.UTF_8);
        assertThat(program.toFile().setExecutable(true)).isTrue();
        return program;
    }

    @Test
    @EnabledOnOs({OS.LINUX, OS.MAC})
    void aKnownRuntimeTellsItsVersionAndAnyOtherProgramIsKnownByItsHash() throws Exception {
        assertThat(Fingerprint.versionOf(program("python3.13", "#!/bin/sh\necho Python 3.13.5\n")))
                .contains("Python 3.13.5");
        // SHA-256 of "abc": FIPS 180-4 examples of NIST (SHA256.pdf), BA7816BF 8F01CFEA ...
        assertThat(Fingerprint.versionOf(program("board", "abc"))).contains("SHA-256 ba7816bf8f01cfea");
        assertThat(Fingerprint.versionOf(folder.resolve("gone"))).isEmpty();
    }
}
