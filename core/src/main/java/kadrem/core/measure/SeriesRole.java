package kadrem.core.measure;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** What kind of resource a host series tells of. */
public enum SeriesRole {
    CPU, MEMORY, DISK, NETWORK, THREADS, CUSTOM;

    /** The word used in files. */
    public String id() {
        return name().toLowerCase(Locale.ROOT);
    }

    public static Optional<SeriesRole> byId(String id) {
        return Arrays.stream(values()).filter(role -> role.id().equals(id)).findFirst();
    }
}
