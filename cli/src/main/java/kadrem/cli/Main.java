package kadrem.cli;

import java.io.PrintWriter;
import java.io.Writer;

import kadrem.core.study.MeasuredStudy;
import kadrem.core.study.Protocols;
import kadrem.files.study.StudyException;
import kadrem.files.study.StudyFile;
import kadrem.load.drive.UserDrivers;
import kadrem.work.Objection;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Help.Ansi;
import picocli.CommandLine.Option;

/** The program {@code kadrem} without its window. */
@Command(name = "kadrem", mixinStandardHelpOptions = true, version = "kadrem 0.1.0", synopsisSubcommandLabel = "COMMAND", description = "Chooses between alternatives by experiment: identical load, repeated rounds, honest statistics.", subcommands = {
        NewCommand.class, AllowCommand.class, ImportCommand.class, RecordCommand.class, RehearseCommand.class,
        WatchCommand.class, FindLoadCommand.class, MeasureCommand.class, AgainCommand.class, FloorCommand.class,
        CompareCommand.class, VerdictCommand.class, RegressCommand.class, HistoryCommand.class, ReportCommand.class,
        ExportCommand.class, CheckCommand.class,
        CompletionCommand.class,
        TryCommand.class, RoughWireCommand.class, CommandLine.HelpCommand.class}, footer = {"",
                "With a window: kadrem demo, kadrem open STUDY. Stand-in services: kadrem standin NAME --port N.",
                "Exit codes: 0 as wanted, 1 Kadrem failed, 2 bad input, 3 a run failed or could not be made, 4 stopped,",
                "5 a rehearsal found calls that are not good or answers that differ, 6 every candidate misses a requirement,",
                "7 not settled, 8 no run is sound, 9 settled worse than the reference."})
public final class Main {
    static final int FAILED = 1;
    static final int BAD_INPUT = 2;
    static final int RUN_FAILED = 3;
    static final int STOPPED = 4;
    static final int DISAGREES = 5;
    static final int MISSED = 6;
    static final int NOT_SETTLED = 7;
    static final int UNSOUND = 8;
    static final int WORSE = 9;

    @Option(names = {"-q",
            "--quiet"}, scope = CommandLine.ScopeType.INHERIT, description = "print nothing but problems; the exit"
                    + " code tells the rest")
    private boolean quiet;

    private Main() {
    }

    public static void main(String[] arguments) {
        UserDrivers.join();
        Protocols.broken().forEach(why -> System.err.println("note: " + why));
        System.exit(commandLine().execute(arguments));
    }

    /** The command line, ready to be executed; its output and error writers may be set. */
    static CommandLine commandLine() {
        var main = new Main();
        var line = new CommandLine(main);
        line.setOut(Terminal.on(System.out));
        line.setErr(Terminal.on(System.err));
        line.setColorScheme(CommandLine.Help.defaultColorScheme(Ansi.OFF));
        line.setUsageHelpAutoWidth(true);
        line.setExecutionStrategy(parsed -> {
            if (main.quiet) {
                line.setOut(new PrintWriter(Writer.nullWriter()));
            }
            return new CommandLine.RunLast().execute(parsed);
        });
        line.setExecutionExceptionHandler((failure, at, _) -> explain(failure, at.getErr()));
        return line;
    }

    private static int explain(Exception failure, PrintWriter err) {
        switch (failure) {
            case StudyException study -> err.println(study.getMessage());
            case BadInput input -> err.println(input.getMessage());
            case java.io.UncheckedIOException files -> {
                err.println(files.getMessage() + ".");
                return RUN_FAILED;
            }
            default -> {
                err.println("Kadrem failed: " + failure);
                failure.printStackTrace(err);
                return FAILED;
            }
        }
        return BAD_INPUT;
    }

    /** What the user gave cannot be used; the message says why and how to mend it. */
    static final class BadInput extends Exception {
        private static final long serialVersionUID = 1L;

        BadInput(String message) {
            super(message);
        }

        /** @param what what was not done, such as "Nothing was measured" */
        static BadInput of(String what, Objection objection) {
            return new BadInput(what + ": " + (objection instanceof Objection.Waits waits
                    ? waits.why().getMessage()
                    : objection.words() + (objection.words().endsWith(".") ? "" : ".")));
        }
    }

    /** The study, where it puts its candidates under a load. */
    static MeasuredStudy measured(StudyFile file) throws BadInput {
        return file.study().measured()
                .orElseThrow(() -> BadInput.of("Nothing was done", new Objection.MeasuredElsewhere()));
    }

    /** How results are printed. */
    enum Format {
        text, json
    }
}
