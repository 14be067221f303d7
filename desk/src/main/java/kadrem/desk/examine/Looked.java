package kadrem.desk.examine;

import java.util.List;
import java.util.Optional;
import java.util.function.BiConsumer;

import kadrem.core.examine.Selection;
import kadrem.core.study.Annotation;
import kadrem.desk.Session;
import kadrem.figures.CourseFigure;
import kadrem.figures.FigureTheme;
import kadrem.figures.RunLine;

/**
 * The runs that are looked at, and how.
 *
 * @param brush told of a time that is chosen: first second, and the second before which it ends
 */
record Looked(Session.State state, List<Examined> runs, Selection selection, FigureTheme theme,
        BiConsumer<Integer, Integer> brush) {
    List<RunLine> lines() {
        return runs.stream().map(Examined::line).toList();
    }

    long warmUp() {
        return state.measured().load().course().search().isPresent()
                ? 0
                : state.measured().load().warmUp().toSeconds();
    }

    /** The last second that any of the runs has. */
    long end() {
        return runs.stream().flatMapToLong(one -> one.view().seconds().stream()
                .mapToLong(second -> second.second() + (long) one.view().step())).max().orElse(1);
    }

    Optional<double[]> chosenTime() {
        return selection.isWholeTime()
                ? Optional.empty()
                : Optional.of(new double[]{selection.from(), Math.min(selection.to(), end())});
    }

    /** What was noted of moments of these runs. */
    List<CourseFigure.Note> notes() {
        return runs.stream().flatMap(one -> state.study().annotations().stream()
                .filter(note -> note.run().equals(one.run().id()))
                .map((Annotation note) -> new CourseFigure.Note(note.second(), one.name() + ": " + note.text())))
                .toList();
    }
}
