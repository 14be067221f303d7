package kadrem.desk.candidates;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

import kadrem.core.study.Candidate;
import kadrem.core.study.Study;
import kadrem.desk.Session;
import kadrem.desk.form.FormPane;
import kadrem.desk.look.CandidateMark;
import kadrem.files.study.Edit;

/** What the user changes about the candidates of the study. */
final class CandidateEdits {
    private final Session session;
    private final FormPane form;
    private final Consumer<String> rejected;

    /**
     * @param form closed where its candidate is no more
     * @param rejected told why an edit was not taken; an empty text before each
     */
    CandidateEdits(Session session, FormPane form, Consumer<String> rejected) {
        this.session = session;
        this.form = form;
        this.rejected = rejected;
    }

    static String path(Session.State state, Candidate candidate) {
        return "candidates[" + state.study().indexOf(candidate.id()) + "]";
    }

    void put(Candidate candidate, String field, Optional<Object> value, Runnable done) {
        session.state().ifPresent(state -> {
            if (state.study().indexOf(candidate.id()) < 0) {
                // it was removed while its form was open
                form.close();
                return;
            }
            edit(List.of(new Edit.Put(path(state, candidate), Map.of(field, value))), done);
        });
    }

    private void edit(List<Edit> edits, Runnable done) {
        rejected.accept("");
        session.edit(edits, why -> rejected.accept(why + " The study keeps its last good state."), done);
    }

    void edit(List<Edit> edits) {
        edit(edits, () -> {
        });
    }

    void add() {
        session.state().ifPresent(state -> {
            List<Candidate> candidates = state.study().candidates();
            String id = unusedId(candidates, "candidate");
            Map<String, Object> made = new LinkedHashMap<>();
            made.put("id", id);
            made.put("name", "Candidate " + new CandidateMark(candidates.size()).letter());
            made.put("address", "http://127.0.0.1:" + (8080 + candidates.size()));
            edit(List.of(new Edit.Insert("candidates", candidates.size(), made)));
        });
    }

    private static String unusedId(List<Candidate> candidates, String stem) {
        String id = stem;
        for (int i = 2; has(candidates, id); i++) {
            id = stem + "-" + i;
        }
        return id;
    }

    private static boolean has(List<Candidate> candidates, String id) {
        return candidates.stream().anyMatch(one -> one.id().equals(id));
    }

    /** A copy of all that the study says of a candidate, under an id of its own. */
    void duplicate(Study study, Candidate candidate) {
        int index = study.indexOf(candidate.id());
        edit(List.of(new Edit.Copy("candidates", index, index + 1,
                Map.of("id", Optional.of(unusedId(study.candidates(), candidate.id()))))));
    }

    void remove(Study study, Candidate candidate) {
        int index = study.indexOf(candidate.id());
        var edits = new ArrayList<Edit>();
        edits.add(new Edit.Remove("candidates", index));
        if (study.question().baseline().equals(candidate.id()) && study.candidates().size() > 1) {
            // the others are compared with whoever is now the first
            Candidate next = study.candidates().get(index == 0 ? 1 : 0);
            edits.add(new Edit.Put("question", Map.of("baseline", Optional.of(next.id()))));
        }
        edit(edits);
    }
}
