package kadrem.core.plan;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.List;

import kadrem.core.study.Call;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Study;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;

/**
 * The digest of what a study sends and how much of it, by which runs from before an edit are told apart. It is taken over a
 * text of its own, to which what is new is added only where it is not at its default, so that runs stay comparable when
 * Kadrem learns more.
 */
public final class LoadDigest {
    private static final int SHOWN_BYTES = 8;

    private LoadDigest() {
    }

    /** The first 16 hexadecimal digits of the SHA-256 of workload and load profile in their written form. */
    public static String of(Study study) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256")
                    .digest(written(study).getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(digest, 0, SHOWN_BYTES);
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("every Java platform has SHA-256", impossible);
        }
    }

    private static String written(Study study) {
        var text = new StringBuilder();
        for (ValueList list : study.workload().values()) {
            switch (list) {
                case ValueList.NumberRange(String name, long from, long to) -> line(text, "range", name, from, to);
                case ValueList.Listed(String name, String _, String _, List<String> rows) ->
                    line(text, "list", name, rows.toArray());
            }
        }
        for (Visit visit : study.workload().visits()) {
            line(text, "visit", visit.share());
            for (Call call : visit.calls()) {
                line(text, "call", call.name(), call.method(), call.path(), call.body(), call.expected());
                call.headers().forEach(header -> line(text, "header", header.name(), header.value()));
            }
        }
        LoadProfile load = study.load();
        line(text, "load", load.warmUp(), load.measured(), load.timeout());
        switch (load) {
            case LoadProfile.Closed closed -> line(text, "closed", closed.users(), closed.thinkTime());
            case LoadProfile.Open open -> {
                line(text, "open", open.arrivalsPerSecond(), open.connections());
                if (open.spacing() != LoadProfile.Spacing.CONSTANT) {
                    line(text, "spacing", open.spacing().id());
                }
            }
        }
        return text.toString();
    }

    /** A line of parts, each with its length before it, so that no two studies are written alike. */
    private static void line(StringBuilder text, String kind, Object... parts) {
        text.append(kind);
        for (Object part : parts) {
            String written = part instanceof Object[] several ? List.of(several).toString() : String.valueOf(part);
            text.append(' ').append(written.length()).append(':').append(written);
        }
        text.append('\n');
    }
}
