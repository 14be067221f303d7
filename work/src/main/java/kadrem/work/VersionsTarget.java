package kadrem.work;

import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

import kadrem.core.study.Candidate;
import kadrem.core.study.Launch;
import kadrem.core.study.MeasuredStudy;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.PairComparison;
import kadrem.core.verdict.Regression;
import kadrem.files.history.HistoryFile;
import kadrem.files.run.RunFolders;
import kadrem.files.study.StudyFile;
import kadrem.load.campaign.TwoCommits;
import kadrem.load.gate.Consent;
import org.apache.commons.text.StringTokenizer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Two versions of a candidate beside each other, each built where it is a commit, and kept in the study's history. */
final class VersionsTarget implements Target {
    private static final Logger LOG = LoggerFactory.getLogger(VersionsTarget.class);

    private final Order.Versions order;
    private final Optional<TwoCommits> commits;
    private final List<Instant> at;
    private final List<Regression.Version> versions;
    private final MeasuredStudy study;
    private final RunFolders store;

    private VersionsTarget(Order.Versions order, Optional<TwoCommits> commits, List<Instant> at,
            List<Regression.Version> versions) {
        this.order = order;
        this.commits = commits;
        this.at = at;
        this.versions = versions;
        StudyFile file = order.file();
        study = Regression.study(file.measured(), order.candidate(), versions.getFirst(), versions.getLast(),
                order.rounds());
        // two commands under the same names are two others each time
        store = RunFolders.ofVersions(file.folder(), order.candidate(), versions.getFirst().name(),
                versions.getLast().name() + (commits.isPresent() ? "" : "-" + at.getLast().getEpochSecond()));
    }

    /**
     * Makes both versions ready, which may take a build.
     *
     * @param step told what is being done
     */
    static VersionsTarget of(Order.Versions order, Clock clock, Consumer<String> step)
            throws NotDone, IOException, InterruptedException {
        Launch launch = order.file().study().candidate(order.candidate()).flatMap(Candidate::launch)
                .orElseThrow(() -> new NotDone("the study does not say how to launch " + order.candidate()
                        + ", so that its versions cannot be measured beside each other"));
        return switch (order.pair()) {
            case Order.Commands(String before, String after) -> {
                Instant now = clock.instant();
                yield allowed(new VersionsTarget(order, Optional.empty(), List.of(now, now),
                        List.of(new Regression.Version("before", command(launch, before)),
                                new Regression.Version("after", command(launch, after)))));
            }
            case Order.Commits wanted -> ofCommits(order, wanted, launch, step);
        };
    }

    private static VersionsTarget ofCommits(Order.Versions order, Order.Commits wanted, Launch launch,
            Consumer<String> step) throws NotDone, IOException, InterruptedException {
        step.accept("checking out " + wanted.before() + " and " + wanted.after());
        TwoCommits both;
        try {
            both = TwoCommits.of(new TwoCommits.Origin(wanted.before(), wanted.after(), wanted.repository(),
                    wanted.build()), launch, order.file().folder(), step);
        } catch (IOException cause) {
            throw new NotDone("the versions cannot be made ready: " + cause.getMessage());
        }
        try {
            return allowed(new VersionsTarget(order, Optional.of(both), both.at(),
                    List.of(both.before(), both.after())));
        } catch (IOException | RuntimeException cause) {
            both.close();
            throw cause;
        }
    }

    /** The user has just named the versions; what else the study does was allowed before. */
    private static VersionsTarget allowed(VersionsTarget made) throws IOException {
        Consent consent = Consent.ofUser();
        consent.allowToo(consent.asks(made.study, made.order.file().folder()), made.order.file().folder());
        return made;
    }

    private static Launch command(Launch launch, String words) {
        return new Launch(new StringTokenizer(words, ' ', '"').getTokenList(), launch.folder(), launch.environment(),
                launch.processors(), launch.readyWithin(), launch.stopWithin());
    }

    @Override
    public MeasuredStudy study() {
        return study;
    }

    @Override
    public RunFolders store() {
        return store;
    }

    @Override
    public int wanted() {
        return study.plan().rounds();
    }

    /** Keeps both in the study's history, and says whether the later one is worse. */
    @Override
    public String follows() throws IOException {
        Comparison comparison = Comparison.of(study, store.runs());
        if (comparison.pairs().stream().noneMatch(PairComparison::deciding)) {
            return "No round has two sound runs, so that nothing can be said of " + versions.getFirst().name() + " and "
                    + versions.getLast().name() + ". " + comparison.leftOut().stream().findFirst()
                            .map(one -> "The first that was left out: " + one.sentence() + ".").orElse("");
        }
        if (order.kept()) {
            HistoryFile.add(order.file().folder(), comparison, order.candidate(),
                    versions.stream().map(Regression.Version::name).toList(), at);
        }
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
