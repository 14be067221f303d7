package kadrem.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import java.util.jar.JarOutputStream;
import java.util.zip.ZipEntry;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;

/** The window as a program of its own, from its first moment to its end. */
@EnabledIf(value = "kadrem.desk.DrivenWindow#hasDisplay", disabledReason = "there is no display; ./kadrem test brings one")
@Timeout(value = 3, unit = TimeUnit.MINUTES)
class WindowStartTest {
    @TempDir
    private Path folder;

    /** A driver that cannot be used is told of only by who looks for drivers where the user keeps them. */
    @Test
    void driversOfTheUsersOwnAreSeenAndAPracticeEnds() throws Exception {
        Path drivers = Files.createDirectories(folder.resolve("data/kadrem/drivers"));
        try (OutputStream file = Files.newOutputStream(drivers.resolve("own.jar"));
                var jar = new JarOutputStream(file)) {
            jar.putNextEntry(new ZipEntry("META-INF/services/kadrem.core.study.Protocol"));
            jar.write("harbour.NoSuchDriver\n".getBytes(StandardCharsets.UTF_8));
        }
        Path said = folder.resolve("said");
        var builder = new ProcessBuilder(Path.of(System.getProperty("java.home"), "bin", "java").toString(), "-cp",
                System.getProperty("java.class.path"), "kadrem.desk.start.Desk", "--study",
                DrivenWindow.copyOfDemo(folder).toString(), "--practise").redirectErrorStream(true)
                .redirectOutput(said.toFile());
        builder.environment().put("XDG_DATA_HOME", folder.resolve("data").toString());
        builder.environment().put("XDG_CONFIG_HOME", folder.resolve("config").toString());
        Process window = builder.start();
        try {
            assertThat(window.waitFor(2, TimeUnit.MINUTES)).as("it ends by itself").isTrue();
        } finally {
            window.destroyForcibly();
        }
        assertThat(window.exitValue()).isZero();
        assertThat(said).content().contains("harbour.NoSuchDriver");
        assertThat(folder.resolve("data/kadrem/window.properties")).as("a practice keeps nothing").doesNotExist();
    }
}
