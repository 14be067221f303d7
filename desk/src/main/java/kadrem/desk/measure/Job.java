package kadrem.desk.measure;

import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

import kadrem.core.measure.RunRecord;
import kadrem.core.measure.Soundness;
import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.Study;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.NoiseFloor;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.Regression;
import kadrem.desk.Session;
import kadrem.files.history.HistoryFile;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyFile;
import kadrem.load.campaign.Campaign;
import kadrem.load.gate.Consent;
import kadrem.load.campaign.TwoCommits;
import org.apache.commons.text.StringTokenizer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Runs that are to be made: those of a study, of a candidate against itself, or of two versions of one. */
interface Job extends AutoCloseable {
    Study study();

    RunFolders store();

    /** The round up to which runs are made. */
    int lastRound();

    /** Whether its runs are runs of the study that the window shows. */
    default boolean isOfStudy() {
        return false;
    }

    /** What follows from its runs, to be told when they are made; empty where nothing is to be added. */
    default String told() throws IOException {
        return "";
    }

    @Override
    default void close() {
        // nothing was made for it
    }

    /** Makes a job ready, on the thread that then measures. */
    interface Order {
        /** @param step told what is being done */
        Job ready(Consumer<String> step) throws IOException, InterruptedException;
    }

    /** Runs of the study. */
    record OfStudy(Study study, RunFolders store, int rounds) implements Job {
        OfStudy(Session.State state, int rounds) {
            this(state.study(), new RunFolders(state.file().folder()), rounds);
        }

        @Override
        public int lastRound() {
            return Campaign.firstOpenRound(study, store.runs()) + rounds - 1;
        }

        @Override
        public boolean isOfStudy() {
            return true;
        }
    }

    /**
     * Runs of a candidate against itself.
     *
     * @param shown the study from whose limits their soundness is judged
     */
    record OfFloor(Study shown, Study study, RunFolders store, int rounds) implements Job {
        /** Fewer rounds give no interval, and so no floor. */
        private static final int FEWEST_ROUNDS = 6;

        OfFloor(Session.State state, String candidate, int rounds) {
            this(state.study(), NoiseFloor.study(state.study(), candidate),
                    RunFolders.ofNoiseFloor(state.file().folder()), Math.max(FEWEST_ROUNDS, rounds));
        }

        @Override
        public int lastRound() {
            return Campaign.firstOpenRound(study, store.runs()) + rounds - 1;
        }

        /** Why there is no noise floor after it was measured. */
        @Override
        public String told() {
            List<RunRecord> runs = store.runs();
            if (NoiseFloor.of(shown, runs).isPresent()) {
                return "";
            }
            long sound = runs.stream().filter(run -> run.judgedUnder(shown.judgement()).isResult()).count();
            return "No noise floor yet: it takes " + FEWEST_ROUNDS
                    + " rounds of which both runs count; "
                    + sound + " of " + runs.size() + " runs do." + runs.stream()
                            .flatMap(run -> run.soundness().stream()).filter(Soundness.Finding::disturbs).findFirst()
                            .map(finding -> " The first that was not: " + finding.sentence() + ".").orElse("");
        }
    }

    /** Runs of two versions of a candidate, beside each other. */
    final class OfVersions implements Job {
        private static final Logger LOG = LoggerFactory.getLogger(OfVersions.class);

        private final StudyFile file;
        private final TwoVersions asked;
        private final Optional<TwoCommits> commits;
        private final List<Instant> at;
        private final List<Regression.Version> versions;
        private final Study study;
        private final RunFolders store;

        private OfVersions(StudyFile file, TwoVersions asked, Optional<TwoCommits> commits, List<Instant> at,
                List<Regression.Version> versions) {
            this.file = file;
            this.asked = asked;
            this.commits = commits;
            this.at = at;
            this.versions = versions;
            study = Regression.study(file.study(), asked.candidate(), versions.getFirst(), versions.getLast(),
                    Optional.empty());
            // two commands under the same names are two others each time
            store = RunFolders.ofVersions(file.folder(), asked.candidate(), versions.getFirst().name(),
                    versions.getLast().name() + (commits.isPresent() ? "" : "-" + at.getLast().getEpochSecond()));
        }

        static OfVersions ready(StudyFile file, TwoVersions asked, Consumer<String> step)
                throws IOException, InterruptedException {
            Launch launch = file.study().candidate(asked.candidate()).flatMap(Candidate::launch)
                    .orElseThrow(() -> new IOException("the study does not say how to launch " + asked.candidate()));
            if (!asked.areCommits()) {
                Instant now = Clock.systemUTC().instant();
                return allowed(new OfVersions(file, asked, Optional.empty(), List.of(now, now),
                        List.of(new Regression.Version("before", command(launch, asked.before())),
                                new Regression.Version("after", command(launch, asked.after())))));
            }
            step.accept("checking out " + asked.before() + " and " + asked.after());
            TwoCommits both = TwoCommits.of(new TwoCommits.Origin(asked.before(), asked.after(), Optional.empty(),
                    asked.build().isBlank() ? Optional.empty() : Optional.of(asked.build())), launch,
                    file.folder(), step);
            try {
                return allowed(new OfVersions(file, asked, Optional.of(both), both.at(),
                        List.of(both.before(), both.after())));
            } catch (IOException | RuntimeException cause) {
                both.close();
                throw cause;
            }
        }

        /** The user has just typed the versions; the other commands were allowed before. */
        private static OfVersions allowed(OfVersions made) throws IOException {
            Consent consent = Consent.ofUser();
            consent.allowToo(consent.asks(made.study, made.file.folder()), made.file.folder());
            return made;
        }

        private static Launch command(Launch launch, String words) {
            return new Launch(new StringTokenizer(words, ' ', '"').getTokenList(), launch.folder(),
                    launch.environment(), launch.processors(), launch.readyWithin(), launch.stopWithin());
        }

        @Override
        public Study study() {
            return study;
        }

        @Override
        public RunFolders store() {
            return store;
        }

        @Override
        public int lastRound() {
            return study.plan().rounds();
        }

        /** Keeps both in the study's history, and says whether the later one is worse. */
        @Override
        public String told() throws IOException {
            Comparison comparison = Comparison.of(study, store.runs());
            if (comparison.pairs().stream().noneMatch(PairComparison::deciding)) {
                return "No round has two sound runs, so that nothing can be said of " + versions.getFirst().name()
                        + " and " + versions.getLast().name() + ". "
                        + comparison.leftOut().stream().findFirst().map(one -> "The first that was left out: "
                                + one.sentence() + ".").orElse("");
            }
            HistoryFile.add(file.folder(), comparison, asked.candidate(),
                    versions.stream().map(Regression.Version::name).toList(), at);
            return study.question().text() + " " + String.join(" ", Regression.findings(comparison));
        }

        @Override
        public void close() {
            commits.ifPresent(both -> {
                try {
                    both.close();
                } catch (IOException cause) {
                    // the runs are made, and git can still be told: git worktree prune
                    LOG.warn("the commits that were checked out could not be taken away", cause);
                }
            });
        }
    }
}
