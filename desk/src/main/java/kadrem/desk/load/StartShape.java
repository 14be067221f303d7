package kadrem.desk.load;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;
import kadrem.files.study.Edit;

/** Profiles to start from, made around the level that a study has now. */
enum StartShape {
    STEADY("steady", "one level for the whole time: what a comparison of response times wants"), STRESS("stress",
            "up to the level, then in stairs to three times as much: what gives way first"), SOAK("soak",
                    "seven tenths of the level for an hour: leaks, and what fills up"), SPIKE("spike",
                            "five times the level for a moment, and back: how a candidate comes out of it"), LADDER(
                                    "ladder",
                                    "twice as much level by level until throughput stops growing: where the bend is");

    private final String words;
    private final String meaning;

    StartShape(String words, String meaning) {
        this.words = words;
        this.meaning = meaning;
    }

    String words() {
        return words;
    }

    String meaning() {
        return meaning;
    }

    /** The edit that gives a study this shape. */
    List<Edit> edits(MeasuredStudy study) {
        if (study.load().single().isEmpty()) {
            // crowds have loads of their own
            return List.of();
        }
        LoadProfile.Single load = study.load().single().get();
        double level = Math.max(1, load.shape().peak());
        String field = load instanceof LoadProfile.Open ? "arrivalsPerSecond" : "users";
        var fields = new LinkedHashMap<String, Optional<Object>>();
        for (String other : List.of("segments", "curve", "timeline", "visits", "ladder", "ceiling", "warmUpLevel")) {
            fields.put(other, Optional.empty());
        }
        switch (this) {
            case STEADY -> {
                fields.put("measured", Optional.of("30s"));
                fields.put(field, Optional.of(LoadForm.plain(level)));
            }
            case STRESS -> fields.put("segments", Optional.of(List.of(piece("ramp", "15s", "to", level),
                    piece("hold", "15s", "at", level), Map.of("step", "60s", "to", LoadForm.plain(level * 3),
                            "stairs", "4"))));
            case SOAK -> {
                fields.put("measured", Optional.of("1h"));
                fields.put(field, Optional.of(LoadForm.plain(Math.max(1, Math.rint(level * 0.7)))));
            }
            case SPIKE -> fields.put("segments", Optional.of(List.of(piece("hold", "20s", "at", level),
                    piece("burst", "5s", "at", level * 5), piece("hold", "20s", "at", level))));
            case LADDER -> {
                fields.put("measured", Optional.of("10s"));
                fields.put("ladder", Optional.of(ladder(level)));
            }
        }
        return List.of(new Edit.Put("load", fields));
    }

    /** From an eighth of the level to sixteen times as much. */
    static Map<String, String> ladder(double level) {
        return Map.of("from", LoadForm.plain(Math.max(1, Math.rint(level / 8))), "factor", "2", "most", "8");
    }

    private static Map<String, Object> piece(String kind, String length, String toOrAt, double level) {
        return Map.of(kind, length, toOrAt, LoadForm.plain(level));
    }
}
