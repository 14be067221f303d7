package kadrem.desk.workload;

import java.util.List;
import java.util.function.Consumer;
import java.util.function.DoubleConsumer;
import java.util.stream.Stream;

import kadrem.desk.look.Background;
import kadrem.desk.Session;
import kadrem.files.imports.Imported;
import kadrem.files.imports.log.AccessLog;

/**
 * What was read of a file or a text, and can become a part of the study.
 *
 * @param notes what its user should know
 * @param lines what would be added
 * @param adding brings it into the study
 */
record Found(String summary, List<String> notes, List<String> lines, Adding adding) {

    /** Brings something into the study. */
    interface Adding {
        /**
         * @param progress given the share that is done
         * @param refused given why it could not be
         */
        void add(Session.State state, DoubleConsumer progress, Consumer<String> refused, Runnable done);
    }

    /** Calls become a visit. */
    static Found of(Session session, Imported calls) {
        return new Found(calls.summary(), calls.notes(), calls.written(), (state, _, refused, done) -> session
                .edit(calls.edits(state.measured()), refused, done));
    }

    /** A log becomes calls, and the timeline of the load. */
    static Found of(Session session, AccessLog log) {
        List<String> lines = Stream.concat(log.calls().stream(), log.lists().stream().map(list -> "value list " + list))
                .toList();
        return new Found(log.summary(), log.notes(), lines,
                (state, progress, refused, done) -> Background.AT_ONCE.run(
                        () -> log.write(state.file().folder(), progress),
                        made -> session.edit(made.edits(), why -> {
                            AccessLog.discard(made.files());
                            refused.accept(why);
                        }, done), cause -> refused.accept(String.valueOf(cause.getMessage()))));
    }
}
