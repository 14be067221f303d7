package kadrem.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;

import kadrem.core.proposal.ProposedLoad;
import kadrem.core.rehearsal.Rehearsal;
import kadrem.core.study.MeasuredStudy;
import kadrem.files.compare.Results;
import kadrem.files.imports.ImportException;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.gate.Consent;
import kadrem.work.Ended;
import kadrem.work.FindLoad;
import kadrem.work.MakeStudy;
import kadrem.work.Order;
import org.apache.commons.io.file.PathUtils;

/** {@code kadrem compare URL URL}: from addresses or curl commands to a verdict, by a study that goes again unless it is to be kept. */
final class ComparingGiven {
    private final List<String> given;
    private final Wanted wanted;
    private final PrintWriter out;
    private final PrintWriter err;

    /**
     * What the user wants otherwise.
     *
     * @param keep folder in which the study is left behind
     */
    record Wanted(Optional<Duration> measured, Optional<Integer> rounds, Optional<Path> keep, boolean json) {
    }

    ComparingGiven(List<String> given, Wanted wanted, PrintWriter out, PrintWriter err) {
        this.given = given;
        this.wanted = wanted;
        this.out = out;
        this.err = err;
    }

    /** @return the exit code */
    int run() throws Main.BadInput, IOException, StudyException, InterruptedException {
        Path folder = wanted.keep().isPresent() ? wanted.keep().get() : Files.createTempDirectory("kadrem-compare-");
        boolean keeps = wanted.keep().isPresent();
        try {
            try {
                MakeStudy.of(folder, "", given).forEach(note -> err.println("note: " + note));
            } catch (ImportException | IOException cause) {
                throw new Main.BadInput(String.valueOf(cause.getMessage()));
            }
            if (!keeps) {
                err.println("The study is in " + folder + " until this ends; --keep FOLDER leaves it behind.");
            }
            int code = measured(folder);
            if (code == Main.STOPPED && !keeps) {
                keeps = true;
                err.println("What was measured is in " + folder + ".");
            } else if (keeps) {
                err.println("The study is in " + folder + ". Look at it with kadrem open " + folder + ".");
            }
            return code;
        } finally {
            if (!keeps) {
                Consent.ofUser().withdraw(folder);
                PathUtils.deleteDirectory(folder);
            }
        }
    }

    private int measured(Path folder) throws Main.BadInput, IOException, StudyException, InterruptedException {
        StudyFile file = StudyFile.read(folder);
        Rehearsal rehearsal = RehearseCommand.rehearsal(file, err);
        MeasuredStudy study = RehearseCommand.accepting(file, rehearsal, err);
        if (!rehearsal.agrees(study.agreement())) {
            err.print(RehearseCommand.text(study, rehearsal));
            err.println("Nothing was measured" + (wanted.keep().isPresent()
                    ? "."
                    : "; with --keep FOLDER the study stays, so that what does not matter can be accepted in it."));
            boolean up = rehearsal.candidates().stream().allMatch(one -> one.problem().isEmpty());
            return up ? Main.DISAGREES : Main.RUN_FAILED;
        }
        StudyFile loaded = loaded(StudyFile.read(folder));
        var measuring = new Measuring(err, err, new SelfCheckOption());
        Ended ended = measuring.run(new Order.OfStudy(loaded, Optional.empty()));
        int code = Measuring.exitCode(ended);
        if (ended.made().isEmpty()) {
            return code;
        }
        Results results = StudyResults.read(folder, err);
        VerdictCommand.print(results.verdict(), wanted.json(), out);
        out.flush();
        return code == 0 ? VerdictCommand.exitCode(results) : code;
    }

    /** The study under the load that was found for it. */
    private StudyFile loaded(StudyFile file) throws Main.BadInput, StudyException, IOException, InterruptedException {
        FindLoad.Found found = FindLoadCommand.find(file, err);
        if (found.proposed().isEmpty()) {
            throw new Main.BadInput("No load can be found for them: " + String.join("; ", found.troubles()) + ".");
        }
        ProposedLoad proposed = found.proposed().get();
        if (wanted.rounds().isPresent() || wanted.measured().isPresent()) {
            proposed = proposed.with(wanted.rounds().map(OptionalInt::of).orElse(OptionalInt.empty()),
                    wanted.measured());
        }
        proposed.reasons().forEach(err::println);
        StudyFile changed = file.with(FindLoad.edits(proposed));
        changed.save();
        return changed;
    }
}
