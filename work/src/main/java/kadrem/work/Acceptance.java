package kadrem.work;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;

import kadrem.core.rehearsal.Difference;
import kadrem.core.study.Agreement;
import kadrem.core.study.MeasuredStudy;
import kadrem.files.study.Edit;

/** How differences of a rehearsal are accepted: the study keeps each place with its reason. */
public final class Acceptance {
    private Acceptance() {
    }

    /** @param reasons why each does not matter; what several candidates have at one place is accepted once */
    public static List<Edit> edits(MeasuredStudy study, Map<Difference, String> reasons) {
        var places = new LinkedHashSet<Agreement.Accepted>();
        reasons.forEach((one, reason) -> places.add(new Agreement.Accepted(one.call(), one.where(), reason)));
        var edits = new ArrayList<Edit>();
        int index = study.agreement().accepted().size();
        for (Agreement.Accepted place : places) {
            Map<String, String> item = new LinkedHashMap<>();
            item.put("call", place.call());
            item.put("where", place.where());
            item.put("reason", place.reason());
            edits.add(new Edit.Insert("rehearsal.accepted", index++, item));
        }
        return List.copyOf(edits);
    }
}
