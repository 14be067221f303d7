package kadrem.core.study;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.ServiceConfigurationError;
import java.util.ServiceLoader;
import java.util.stream.Collectors;

/** The protocols whose drivers are there, and HTTP. */
public final class Protocols {
    private static final List<String> BROKEN = new ArrayList<>();
    private static final List<Protocol> ALL = load();

    private Protocols() {
    }

    private static List<Protocol> load() {
        var found = new ArrayList<Protocol>();
        Iterator<ServiceLoader.Provider<Protocol>> providers = ServiceLoader.load(Protocol.class).stream().iterator();
        boolean more = true;
        while (more) {
            try {
                more = providers.hasNext();
                if (more) {
                    found.add(providers.next().get());
                }
            } catch (ServiceConfigurationError | LinkageError cause) {
                BROKEN.add("a driver cannot be used: " + cause.getMessage());
            }
        }
        if (found.stream().noneMatch(one -> one.id().equals(Http.ID))) {
            // studies are read where nothing makes load, too
            found.add(new Http());
        }
        found.sort(Comparator.comparing((Protocol one) -> !one.isCallsOwnForm()).thenComparing(Protocol::id));
        return List.copyOf(found);
    }

    /** Why drivers that were found are left out. */
    public static List<String> broken() {
        return List.copyOf(BROKEN);
    }

    /** HTTP first, the others in the order of their ids. */
    public static List<Protocol> all() {
        return ALL;
    }

    public static Optional<Protocol> byId(String id) {
        return ALL.stream().filter(one -> one.id().equals(id)).findFirst();
    }

    /** Ids of all, for messages. */
    public static String known() {
        return ALL.stream().map(Protocol::id).collect(Collectors.joining(", "));
    }
}
