package kadrem.core.study;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.ServiceConfigurationError;
import java.util.ServiceLoader;

/** The protocols whose drivers are there. */
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
        found.sort(Comparator.comparing(Protocol::id));
        return List.copyOf(found);
    }

    /** Why drivers that were found are left out. */
    public static List<String> broken() {
        return List.copyOf(BROKEN);
    }

    /** In the order of their ids. */
    public static List<Protocol> all() {
        return ALL;
    }

    public static Optional<Protocol> byId(String id) {
        return ALL.stream().filter(one -> one.id().equals(id)).findFirst();
    }

    /** Ids of all, for messages; HTTP among them. */
    public static String known() {
        return "http" + ALL.stream().map(one -> ", " + one.id()).reduce("", String::concat);
    }
}
