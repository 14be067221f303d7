package kadrem.load.campaign;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;

import kadrem.core.study.Address;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ConsentTest {
    @TempDir
    private Path folder;

    @Test
    void loopbackNeedsNoWordAndOtherHostsNeedOne() throws Exception {
        var consent = new Consent(folder.resolve("kadrem/hosts.txt"));
        var far = new Address("board.example", 80, "");
        assertThat(consent.allows(new Address("127.0.0.1", 80, ""))).isTrue();
        assertThat(consent.allows(far)).isFalse();
        assertThatThrownBy(() -> consent.require(far)).isInstanceOf(CandidateFailure.class)
                .hasMessageContaining("kadrem allow board.example");
        consent.allow("Other.example");
        consent.allow("Board.Example");
        assertThat(consent.allows(far)).isTrue();
        consent.require(far);
        assertThat(new Consent(folder.resolve("kadrem/hosts.txt")).allows(far)).as("kept").isTrue();
        assertThat(consent.allows(new Address("example", 80, ""))).isFalse();
    }

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
}
