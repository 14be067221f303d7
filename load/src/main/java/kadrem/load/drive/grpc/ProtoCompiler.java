package kadrem.load.drive.grpc;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.TimeUnit;

import com.google.protobuf.Message;
import org.apache.commons.io.file.PathUtils;

/** The compiler of .proto files that ships with Kadrem: protoc, as Maven Central has it. */
final class ProtoCompiler {
    private static final List<String> WELL_KNOWN = List.of("any", "api", "descriptor", "duration", "empty",
            "field_mask",
            "source_context", "struct", "timestamp", "type", "wrappers");
    private static final long PATIENCE_SECONDS = 60;
    private static final int MAX_TOLD = 2000;

    private ProtoCompiler() {
    }

    /**
     * The descriptor set of a file and of what it imports, which is looked for beside it.
     *
     * @throws IOException if the compiler does not take it; the message is the compiler's
     */
    static byte[] compile(Path proto) throws IOException {
        if (!Files.isRegularFile(proto)) {
            throw new IOException("there is no file " + proto);
        }
        Path work = Files.createTempDirectory("kadrem-protoc");
        try {
            Path program = program(work);
            Path include = wellKnown(work.resolve("include"));
            Path out = work.resolve("set");
            Path said = work.resolve("said");
            Path folder = proto.toAbsolutePath().normalize().getParent();
            Process process = new ProcessBuilder(program.toString(), "--include_imports", "-I" + folder, "-I" + include,
                    "--descriptor_set_out=" + out, proto.toAbsolutePath().normalize().toString())
                    .redirectErrorStream(true).redirectOutput(said.toFile()).start();
            process.getOutputStream().close();
            if (!process.waitFor(PATIENCE_SECONDS, TimeUnit.SECONDS)) {
                process.destroyForcibly();
                throw new IOException("the compiler did not end within " + PATIENCE_SECONDS + " s");
            }
            if (process.exitValue() != 0) {
                try (InputStream words = Files.newInputStream(said)) {
                    throw new IOException(new String(words.readNBytes(MAX_TOLD), StandardCharsets.UTF_8).strip());
                }
            }
            if (Files.size(out) > Descriptions.MAX_BYTES) {
                throw new IOException("what it describes takes more than " + (Descriptions.MAX_BYTES >> 20) + " MiB");
            }
            return Files.readAllBytes(out);
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
            throw new IOException("the compiler was not waited for");
        } finally {
            PathUtils.deleteDirectory(work);
        }
    }

    private static Path program(Path work) throws IOException {
        String system = System.getProperty("os.name", "").toLowerCase(Locale.ROOT);
        String machine = System.getProperty("os.arch", "").replace("amd64", "x86_64").replace("aarch64", "aarch_64");
        String platform = system.contains("win")
                ? "windows-x86_64"
                : system.contains("mac") ? "osx-" + machine : "linux-" + machine;
        try (InputStream in = ProtoCompiler.class.getResourceAsStream("protoc-" + platform + ".exe")) {
            if (in == null) {
                throw new IOException("no compiler for .proto files ships for " + platform
                        + "; make a descriptor set with protoc --include_imports --descriptor_set_out and name that");
            }
            Path program = work.resolve("protoc.exe");
            Files.copy(in, program);
            if (!program.toFile().setExecutable(true)) {
                throw new IOException("the compiler cannot be made executable in " + work);
            }
            return program;
        }
    }

    private static Path wellKnown(Path include) throws IOException {
        Path folder = Files.createDirectories(include.resolve("google").resolve("protobuf"));
        for (String name : WELL_KNOWN) {
            try (InputStream in = Message.class.getResourceAsStream("/google/protobuf/" + name + ".proto")) {
                if (in != null) {
                    Files.copy(in, folder.resolve(name + ".proto"));
                }
            }
        }
        return include;
    }
}
