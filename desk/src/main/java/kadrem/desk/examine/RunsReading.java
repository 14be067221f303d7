package kadrem.desk.examine;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import kadrem.core.examine.Moved;
import kadrem.core.examine.Occurrence;
import kadrem.core.examine.Occurrences;
import kadrem.core.examine.RunView;
import kadrem.core.examine.Selection;
import kadrem.core.examine.WatchView;
import kadrem.core.measure.Exchange;
import kadrem.core.measure.RunRecord;
import kadrem.core.study.MeasuredStudy;
import kadrem.desk.Session;
import kadrem.figures.Mark;
import kadrem.core.examine.Signature;
import kadrem.files.run.RunFolders;
import kadrem.files.run.RunReader;
import kadrem.files.run.RunSignatures;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Reads runs from their files, with what is found in them; off the interface thread. */
final class RunsReading {
    private static final Logger LOG = LoggerFactory.getLogger(RunsReading.class);

    private final Session.State known;
    private final CallTable table;

    RunsReading(Session.State known, CallTable table) {
        this.known = known;
        this.table = table;
    }

    /** Runs that were read, and sentences on those that could not be. */
    record Read(List<Examined> runs, List<String> problems) {
    }

    Read readAll(List<RunRecord> wanted, Map<String, Examined> have,
            Selection under) {
        var read = new ArrayList<Examined>();
        var problems = new ArrayList<String>();
        for (RunRecord run : wanted) {
            try {
                Examined there = have.get(run.id());
                read.add(there == null ? read(run, under) : there);
            } catch (IOException | UncheckedIOException | IllegalArgumentException cause) {
                LOG.warn("the files of run {} cannot be read", run.folderName(), cause);
                problems.add("runs/" + run.folderName() + " cannot be read (" + cause.getMessage()
                        + ") and is left out here.");
            }
        }
        return new Read(List.copyOf(read), problems);
    }

    private Examined read(RunRecord run, Selection under) throws IOException {
        Path folder = new RunFolders(known.file().folder()).folder(run);
        int candidate = known.study().indexOf(run.candidate());
        List<Exchange> exchanges = RunReader.exchanges(folder).stream().filter(under::has).toList();
        RunView view = RunReader.view(folder, under);
        WatchView watch = RunReader.watch(folder);
        MeasuredStudy study = known.measured();
        boolean search = study.load().course().search().isPresent();
        int warmUp = search ? 0 : (int) study.load().warmUp().toSeconds();
        double end = view.seconds().isEmpty() ? 0 : view.seconds().getLast().second() + (double) view.step();
        List<Moved> moved = Moved.rank(watch, view.seconds(), under.isWholeTime() ? warmUp : under.from(),
                under.isWholeTime() ? end : under.to());
        List<Occurrence> occurrences = view.seconds().isEmpty()
                ? List.of()
                : Occurrences.of(view.seconds(), watch, new Occurrences.Frame(warmUp,
                        study.load().isSteady() && !search, run.identity().cores(study)));
        String name = RunChooser.name(candidate, run);
        List<Signature> signatures = under.isAll()
                ? RunSignatures.of(study, run, view, exchanges, known.presentRehearsal())
                : RunSignatures.of(study, folder, run, known.presentRehearsal());
        return new Examined(run, name, new Mark(candidate).awtColour(), view, exchanges, RunReader.host(folder), watch,
                moved, occurrences, signatures, table.lines(name, view, study.callsOfCrowds()));
    }
}
