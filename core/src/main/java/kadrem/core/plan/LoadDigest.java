package kadrem.core.plan;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.List;
import java.util.TreeMap;
import java.util.stream.Collectors;

import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Course;
import kadrem.core.study.Crowd;
import kadrem.core.study.Form;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Study;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.ValueList;
import kadrem.core.study.Visit;
import kadrem.core.study.Workload;

/**
 * The digest of what a study sends and how much of it, by which runs from before an edit are told apart. It is taken over a
 * text of its own, to which what is new is added only where it is not at its default, so that runs stay comparable when
 * Kadrem learns more.
 */
public final class LoadDigest {
    private static final int SHOWN_BYTES = 8;

    private LoadDigest() {
    }

    /** The digest of what is sent; the same for all studies that send nothing. */
    public static String of(Study study) {
        return study.measured().map(LoadDigest::of).orElse("elsewhere");
    }

    /** The first 16 hexadecimal digits of the SHA-256 of workload and load profile in their written form. */
    public static String of(MeasuredStudy study) {
        return digest(written(study.workload()) + written(study.load()));
    }

    /** The same of the workload alone: what is sent, however much of it. */
    public static String ofWorkload(MeasuredStudy study) {
        return digest(written(study.workload()));
    }

    private static String digest(String text) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(digest, 0, SHOWN_BYTES);
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("every Java platform has SHA-256", impossible);
        }
    }

    private static String written(Workload workload) {
        var text = new StringBuilder();
        workload.values().forEach(list -> written(text, list));
        if (workload.choice() != Workload.Choice.BY_SHARE) {
            line(text, "choice", workload.choice().id());
        }
        workload.first().forEach(call -> written(text, "first", call));
        for (Visit visit : workload.visits()) {
            line(text, "visit", visit.share());
            if (visit.repeat() != 1) {
                line(text, "repeat", visit.repeat());
            }
            visit.calls().forEach(call -> written(text, "call", call));
        }
        return text.toString();
    }

    private static String written(LoadProfile load) {
        return load.crowds().stream().map(crowd -> written(crowd) + written(crowd.load()))
                .collect(Collectors.joining());
    }

    /** What is said of a crowd beside its load; nothing of the one that is everyone. */
    private static String written(Crowd crowd) {
        var text = new StringBuilder();
        if (!crowd.isEveryone()) {
            line(text, "crowd", crowd.name(), crowd.start(), crowd.length());
            line(text, "makes", crowd.makes().toArray());
            crowd.first().ifPresent(names -> line(text, "begins", names.toArray()));
        }
        return text.toString();
    }

    private static String written(LoadProfile.Single load) {
        var text = new StringBuilder();
        line(text, "load", load.warmUp(), load.measured(), load.timeout());
        switch (load) {
            case LoadProfile.Closed closed -> {
                line(text, "closed", closed.users(), written(closed.thinkTime()));
                closed.pace().ifPresent(pace -> line(text, "pace", pace));
            }
            case LoadProfile.Open open -> {
                line(text, "open", open.arrivalsPerSecond(), open.connections());
                if (open.connectionLimit() != Math.max(open.connections(), LoadProfile.Open.USUAL_LIMIT)) {
                    line(text, "connection-limit", open.connectionLimit());
                }
                open.timeline().ifPresent(timeline -> line(text, "timeline", timeline.digest(), timeline.from(),
                        timeline.length(), timeline.speed(), timeline.repeat()));
                if (open.spacing() != LoadProfile.Spacing.CONSTANT) {
                    line(text, "spacing", open.spacing().id());
                }
            }
        }
        if (!load.shape().isFlat() && load.timeline().isEmpty()) {
            load.shape().segments().forEach(one -> line(text, "segment", one.kind().id(), one.length(), one.level(),
                    one.stairs()));
        }
        Course course = load.course();
        if (!course.windDown().isZero()) {
            line(text, "wind-down", course.windDown());
        }
        course.warmUpLevel().ifPresent(level -> line(text, "warm-up-level", level));
        course.visits().ifPresent(visits -> line(text, "visits", visits));
        course.search().ifPresent(search -> line(text, "search", search));
        return text.toString();
    }

    private static void written(StringBuilder text, ValueList list) {
        switch (list) {
            case ValueList.NumberRange range -> line(text, "range", range.name(), range.from(), range.to());
            case ValueList.Zipf zipf -> line(text, "zipf", zipf.name(), zipf.from(), zipf.to(), zipf.exponent());
            case ValueList.Listed listed -> line(text, "list", listed.name(), listed.rows().toArray());
            case ValueList.Uuid uuid -> line(text, "uuid", uuid.name());
            case ValueList.Text words -> line(text, "text", words.name(), words.length());
            case ValueList.Timestamp time ->
                line(text, "timestamp", time.name(), time.from(), time.to(), time.asSeconds());
        }
        if (!list.draw().equals(ValueList.Draw.USUAL)) {
            line(text, "draw", list.draw().order().id(), list.draw().keep().id());
        }
    }

    private static void written(StringBuilder text, String kind, Call call) {
        boolean plainText = call.body() instanceof Body.Text(Body.Kind textKind, String template)
                && textKind == Body.Kind.guess(template);
        line(text, kind, call.name(), call.method(), call.path(),
                plainText ? call.body().templates().getFirst() : call.body(), call.expected().status());
        call.headers().forEach(header -> line(text, "header", header.name(), header.value()));
        call.expected().within().ifPresent(within -> line(text, "within", within));
        call.expected().content().forEach(expectation -> line(text, "expect", expectation));
        call.captures().forEach(capture -> line(text, "capture", capture.name(), capture.source()));
        call.timeout().ifPresent(timeout -> line(text, "timeout", timeout));
        call.thinkTime().ifPresent(pause -> line(text, "think", written(pause)));
        call.forms().forEach(form -> written(text, form));
    }

    /** Which part of an answer is compared is no part of the load. */
    private static void written(StringBuilder text, Form form) {
        line(text, "form", form.protocol());
        new TreeMap<>(form.fields()).forEach((name, texts) -> line(text, "field", name, texts.toArray()));
        form.expected().ifPresent(expected -> line(text, "form-expect", expected));
        form.captures().ifPresent(captures -> line(text, "form-capture", captures));
    }

    private static Object written(ThinkTime thinkTime) {
        return thinkTime instanceof ThinkTime.Fixed(java.time.Duration mean) ? mean : thinkTime;
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
