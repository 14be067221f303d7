package kadrem.load.drive;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/** Drivers of the user's own, of protocols and of databases: the jars in a folder, whichever way Kadrem was started. */
public final class UserDrivers {
    private static final ClassLoader LOADER = loader(folder());

    private UserDrivers() {
    }

    /** {@code kadrem/drivers} in $XDG_DATA_HOME (XDG Base Directory Specification 0.8). */
    public static Path folder() {
        String data = System.getenv("XDG_DATA_HOME");
        Path home = data == null || data.isBlank()
                ? Path.of(System.getProperty("user.home", ""), ".local", "share")
                : Path.of(data);
        return home.resolve("kadrem").resolve("drivers");
    }

    /** What sees the classes of Kadrem and of the jars. */
    public static ClassLoader loader() {
        return LOADER;
    }

    static ClassLoader loader(Path folder) {
        ClassLoader own = UserDrivers.class.getClassLoader();
        List<URL> jars = new ArrayList<>();
        if (Files.isDirectory(folder)) {
            try (DirectoryStream<Path> found = Files.newDirectoryStream(folder, "*.jar")) {
                for (Path jar : found) {
                    jars.add(jar.toUri().toURL());
                }
            } catch (IOException cause) {
                throw new UncheckedIOException("the folder of drivers cannot be read: " + cause.getMessage(), cause);
            }
        }
        Collections.sort(jars, (one, two) -> one.getPath().compareTo(two.getPath()));
        return jars.isEmpty() ? own : new URLClassLoader("drivers", jars.toArray(URL[]::new), own);
    }

    /** Lets services be found in the jars by this thread and by those that it starts; to be called before any study is read. */
    public static void join() {
        Thread.currentThread().setContextClassLoader(LOADER);
    }
}
