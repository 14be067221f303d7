package kadrem.desk.load;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Candidate;
import kadrem.core.study.Crowd;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Question;
import kadrem.core.study.Visit;
import kadrem.desk.Session;
import kadrem.files.study.Edit;

/** The edits by which one load becomes several crowds and back, so that each visit is always made by one of them. */
final class CrowdEdits {
    static final String LOAD = "load";
    static final String CROWDS = "load.crowds";
    private static final String MAKES = "makes";
    /** Fields of a load that belong to a crowd where there are some. */
    private static final List<String> OF_A_CROWD = List.of("model", "arrivalsPerSecond", "users", "measured",
            "spacing", "connections", "connectionLimit", "thinkTime", "pace", "warmUpLevel", "segments", "curve",
            "timeline");
    private static final List<String> OF_ONE_LOAD = List.of("visits", "ladder", "ceiling");

    private CrowdEdits() {
    }

    /** Where the fields of a crowd stand. */
    static String path(int crowd) {
        return CROWDS + "[" + crowd + "]";
    }

    /** Another crowd beside those that there are, with the last visit of one that has several; empty where none has. */
    static Optional<List<Edit>> add(Session.State state) {
        MeasuredStudy study = state.measured();
        List<Crowd> crowds = study.load().crowds();
        List<String> visits = study.workload().visits().stream().map(Visit::name).toList();
        boolean first = crowds.getFirst().isEveryone();
        for (int i = crowds.size() - 1; i >= 0; i--) {
            List<String> makes = first ? visits : crowds.get(i).makes();
            if (makes.size() > 1) {
                return Optional.of(first
                        ? split(state, visits)
                        : List.of(new Edit.Put(path(i), Map.of(MAKES, Optional.of(makes.subList(0, makes.size() - 1)))),
                                new Edit.Insert(CROWDS, crowds.size(), crowd(crowds, makes.getLast()))));
            }
        }
        return Optional.empty();
    }

    /** The present load becomes the first crowd. */
    private static List<Edit> split(Session.State state, List<String> visits) {
        var own = new LinkedHashMap<String, Object>();
        own.put("name", "crowd 1");
        own.put(MAKES, visits.subList(0, visits.size() - 1));
        var without = new LinkedHashMap<String, Optional<Object>>();
        for (String field : OF_A_CROWD) {
            state.file().written(LOAD + "." + field).ifPresent(value -> {
                own.put(field, value);
                without.put(field, Optional.empty());
            });
        }
        OF_ONE_LOAD.stream().filter(field -> state.file().has(LOAD + "." + field))
                .forEach(field -> without.put(field, Optional.empty()));
        boolean overTime = own.containsKey("segments") || own.containsKey("curve") || own.containsKey("timeline");
        if (!overTime) {
            own.putIfAbsent("measured", "30s");
            boolean closed = "closed".equals(own.get("model"));
            own.putIfAbsent(closed ? "users" : "arrivalsPerSecond", "10");
        }
        without.put("crowds", Optional.of(List.of(own, crowd(List.of(), visits.getLast()))));
        return List.of(new Edit.Put(LOAD, without));
    }

    private static Map<String, Object> crowd(List<Crowd> others, String makes) {
        int number = Math.max(2, others.size() + 1);
        while (others.stream().map(Crowd::name).toList().contains("crowd " + number)) {
            number++;
        }
        var crowd = new LinkedHashMap<String, Object>();
        crowd.put("name", "crowd " + number);
        crowd.put(MAKES, List.of(makes));
        crowd.put("model", "open");
        crowd.put("arrivalsPerSecond", "10");
        crowd.put("measured", "30s");
        return crowd;
    }

    /** A crowd less: its visits go to the one before it; the last one left becomes the load itself. */
    static List<Edit> remove(Session.State state, int crowd) {
        List<Crowd> crowds = state.measured().load().crowds();
        int heir = crowd == 0 ? 1 : crowd - 1;
        if (crowds.size() == 2) {
            var fields = new LinkedHashMap<String, Optional<Object>>();
            fields.put("crowds", Optional.empty());
            OF_A_CROWD.forEach(field -> state.file().written(path(heir) + "." + field)
                    .ifPresent(value -> fields.put(field, Optional.of(value))));
            return List.of(new Edit.Put(LOAD, fields));
        }
        var makes = new ArrayList<>(crowds.get(heir).makes());
        makes.addAll(crowds.get(crowd).makes());
        return List.of(new Edit.Put(path(heir), Map.of(MAKES, Optional.of(makes))), new Edit.Remove(CROWDS, crowd));
    }

    /** A visit goes over to another crowd. */
    static List<Edit> give(MeasuredStudy study, String visit, int to) {
        var edits = new ArrayList<Edit>();
        List<Crowd> crowds = study.load().crowds();
        for (int i = 0; i < crowds.size(); i++) {
            var makes = new ArrayList<>(crowds.get(i).makes());
            if (i == to) {
                makes.add(visit);
                edits.add(new Edit.Put(path(i), Map.of(MAKES, Optional.of(makes))));
            } else if (makes.remove(visit)) {
                edits.add(new Edit.Put(path(i), Map.of(MAKES, Optional.of(makes))));
            }
        }
        return edits;
    }

    /** Another name, also where metrics and candidates name it. */
    static List<Edit> rename(MeasuredStudy study, int crowd, String name) {
        String before = study.load().crowds().get(crowd).name();
        var edits = new ArrayList<Edit>();
        edits.add(new Edit.Put(path(crowd), Map.of("name", Optional.of(name))));
        Question question = study.question();
        for (int i = 0; i < question.deciders().size(); i++) {
            if (question.deciders().get(i).metric().of().equals(before)) {
                edits.add(new Edit.Put("question.decide[" + i + "]", Map.of("of", Optional.of(name))));
            }
        }
        for (int i = 0; i < question.requirements().size(); i++) {
            if (question.requirements().get(i).metric().of().equals(before)) {
                edits.add(new Edit.Put("question.require[" + i + "]", Map.of("of", Optional.of(name))));
            }
        }
        for (int i = 0; i < study.candidates().size(); i++) {
            List<String> crowds = List.copyOf(study.candidates().get(i).elsewhere().keySet());
            if (crowds.contains(before)) {
                edits.add(new Edit.Put(elsewhere(i, crowds.indexOf(before)), Map.of("crowd", Optional.of(name))));
            }
        }
        return edits;
    }

    private static String elsewhere(int candidate, int item) {
        return "candidates[" + candidate + "].elsewhere[" + item + "]";
    }

    /** Where a candidate answers a crowd: at its own address where the text is blank. */
    static List<Edit> answer(MeasuredStudy study, int candidate, String crowd, String address) {
        List<String> crowds = List.copyOf(study.candidates().get(candidate).elsewhere().keySet());
        int item = crowds.indexOf(crowd);
        String list = "candidates[" + candidate + "].elsewhere";
        if (item < 0) {
            return address.isBlank()
                    ? List.of()
                    : List.of(new Edit.Insert(list, crowds.size(), Map.of("crowd", crowd, "address", address.strip())));
        }
        Candidate known = study.candidates().get(candidate);
        boolean alike = known.entrance(crowd).access().equals(known.access());
        return address.isBlank() && alike
                ? List.of(new Edit.Remove(list, item))
                : List.of(new Edit.Put(elsewhere(candidate, item), Map.of("address",
                        address.isBlank() ? Optional.empty() : Optional.of(address.strip()))));
    }

    /** Which calls of the first part the users of a crowd make: all of them where that is what is left. */
    static List<Edit> begin(List<String> all, int crowd, List<String> made) {
        return List.of(new Edit.Put(path(crowd),
                Map.of("first", made.equals(all) ? Optional.empty() : Optional.of(made))));
    }
}
