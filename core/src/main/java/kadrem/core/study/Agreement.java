package kadrem.core.study;

import java.util.List;
import java.util.Optional;

/**
 * When the answers of two candidates count as the same.
 *
 * @param ignoredHeaders names of headers that may differ, besides {@link #USUALLY_IGNORED}
 * @param ignoredJson JSONPaths of what is left out of JSON answers before they are compared
 * @param tolerance largest relative difference between two numbers that count as the same
 * @param arraysAsSets whether the order inside JSON arrays is of no consequence
 * @param accepted differences that were looked at and found not to matter
 */
public record Agreement(List<String> ignoredHeaders, List<String> ignoredJson, double tolerance, boolean arraysAsSets,
        List<Accepted> accepted) {
    /** Headers that tell of the server and the connection, not of the answer; in lower case. */
    public static final List<String> USUALLY_IGNORED = List.of("date", "server", "connection", "keep-alive",
            "content-length", "transfer-encoding", "set-cookie", "via", "age", "x-powered-by", "x-request-id",
            "traceparent", "alt-svc");
    /** Everything must be the same. */
    public static final Agreement EXACT = new Agreement(List.of(), List.of(), 0, false, List.of());

    public Agreement {
        ignoredHeaders = List.copyOf(ignoredHeaders);
        ignoredJson = List.copyOf(ignoredJson);
        accepted = List.copyOf(accepted);
    }

    /**
     * A difference that does not matter.
     *
     * @param where as in {code Difference}; also everything below it
     * @param reason why it does not
     */
    public record Accepted(String call, String where, String reason) {
    }

    /** Why a difference at that place is accepted; empty where it is not. */
    public Optional<String> reason(String call, String where) {
        return accepted.stream().filter(one -> one.call().equals(call) && covers(one.where(), where))
                .map(Accepted::reason).findFirst();
    }

    private static boolean covers(String accepted, String where) {
        return where.equals(accepted)
                || (where.startsWith(accepted) && ".[/".indexOf(where.charAt(accepted.length())) >= 0);
    }

    /** Whether a header of that name may differ. */
    public boolean ignoresHeader(String name) {
        return USUALLY_IGNORED.stream().anyMatch(name::equalsIgnoreCase)
                || ignoredHeaders.stream().anyMatch(name::equalsIgnoreCase);
    }
}
