package kadrem.core.study;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;

/** The protocols whose drivers are there. */
public final class Protocols {
    private static final List<Protocol> ALL = ServiceLoader.load(Protocol.class).stream()
            .map(ServiceLoader.Provider::get).sorted(Comparator.comparing(Protocol::id)).toList();

    private Protocols() {
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
