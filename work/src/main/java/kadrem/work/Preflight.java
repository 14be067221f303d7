package kadrem.work;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.scaling.Prediction;
import kadrem.core.study.FigureStudy;
import kadrem.core.study.MeasuredStudy;
import kadrem.files.rehearsal.RehearsalFile;
import kadrem.files.study.StudyFile;
import kadrem.load.gate.Consent;
import kadrem.load.gate.NotAllowed;

/**
 * What is to be said before anything is launched.
 *
 * @param objection why nothing may be measured yet
 * @param notes what does not stand against it, in clauses
 * @param rehearsal the rehearsal of this workload, if there was one
 */
public record Preflight(Optional<Objection> objection, List<String> notes, Optional<Rehearsal> rehearsal) {
    public Preflight {
        notes = List.copyOf(notes);
    }

    /** Looks at a study and its folder; nothing is launched or asked. */
    public static Preflight of(StudyFile file) {
        Optional<Objection> asking = toAsking(file);
        if (asking.isPresent()) {
            return new Preflight(asking, List.of(), Optional.empty());
        }
        MeasuredStudy study = file.measured();
        Optional<Rehearsal> rehearsal = RehearsalFile.read(file.folder())
                .filter(one -> one.isOf(study));
        Optional<Objection> objection = rehearsal.flatMap(one -> one.objection(study.agreement()))
                .map(Objection.Said::new);
        var notes = new ArrayList<String>();
        if (rehearsal.isEmpty()) {
            notes.add("this workload was not rehearsed; a rehearsal shows whether all candidates answer alike");
        }
        notes.addAll(Prediction.of(study, rehearsal).weakPercentiles(study));
        return new Preflight(objection, notes, rehearsal);
    }

    /** @throws NotDone if the study's candidates may not be launched, asked or loaded */
    static void requireAsking(StudyFile file) throws NotDone {
        Optional<Objection> objection = toAsking(file);
        if (objection.isPresent()) {
            throw new NotDone(objection.get());
        }
    }

    /** Why the study's candidates may not be launched, asked or loaded: there is nothing to ask them, or the user has not said so yet. */
    public static Optional<Objection> toAsking(StudyFile file) {
        if (file.study() instanceof FigureStudy) {
            return Optional.of(new Objection.MeasuredElsewhere());
        }
        try {
            Consent.ofUser().require(file.study(), file.folder());
            return Optional.empty();
        } catch (NotAllowed why) {
            return Optional.of(new Objection.Waits(why));
        }
    }
}
