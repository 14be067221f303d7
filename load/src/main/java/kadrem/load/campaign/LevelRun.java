package kadrem.load.campaign;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

import kadrem.core.measure.GeneratorFigures;
import kadrem.core.measure.LevelResult;
import kadrem.core.measure.RunJournal;
import kadrem.core.measure.RunOutcome;
import kadrem.core.measure.RunRecord;
import kadrem.core.random.SplitMix64;
import kadrem.core.plan.StreamDigest;
import kadrem.core.scaling.Levels;
import kadrem.core.study.LevelSearch;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.MeasuredStudy;

/** A run that goes up level after level; each is a result of its own, and the best of them stands for the run. */
final class LevelRun {
    private final CampaignContext campaign;
    private final CandidateRun run;
    private final RunJournal journal;
    private final LevelSearch search;
    private final Levels levels;
    private final List<LevelResult> results = new ArrayList<>();
    private Optional<StreamDigest> stream = Optional.empty();
    /** What making the load cost at the last level that was gone through. */
    private Optional<GeneratorFigures> generator = Optional.empty();

    LevelRun(CampaignContext campaign, CandidateRun run, RunJournal journal, LevelSearch search) {
        this.campaign = campaign;
        this.run = run;
        this.journal = journal;
        this.search = search;
        levels = new Levels(search, campaign.study().question().requirements());
    }

    RunRecord make(RunRecord begun) throws CandidateFailure, InterruptedException {
        RunRecord record = begun;
        int fromSecond = 0;
        for (OptionalDouble next = levels.next(results); next.isPresent(); next = levels.next(results)) {
            if (!results.isEmpty() && search instanceof LevelSearch.Ceiling) {
                run.stopCandidate();
                record = run.bringUp(record);
            }
            Optional<RunOutcome> ended = level(record, next.getAsDouble(), fromSecond);
            RunRecord known = record.withLevels(results);
            record = generator.map(known::withGenerator).orElse(known);
            if (ended.isPresent()) {
                return run.ended(record, ended.get(), campaign.interruption().turn().words());
            }
            journal.record(record);
            fromSecond += (int) campaign.study().load().total().toSeconds() + 1;
        }
        return concluded(record);
    }

    /** Measures a level; gives how the run ended where it ended in it. */
    private Optional<RunOutcome> level(RunRecord record, double level, int fromSecond) throws CandidateFailure {
        MeasuredStudy study = campaign.study();
        LoadProfile.Single load = study.load().single().orElseThrow();
        var step = new Step.AtLevel(level, load.unit());
        run.tell(record, step);
        MeasuredRun.Result result = run.load(record, load.at(level),
                SplitMix64.mix(record.identity().streamSeed() + Double.doubleToLongBits(level)), fromSecond);
        stream = stream.or(() -> Optional.of(result.load().stream()));
        Optional<String> dead = run.dead();
        if (dead.isPresent()) {
            results.add(new LevelResult(level, fromSecond, Optional.empty(), List.of(), LevelResult.Step.DIED,
                    "died at " + step.what() + ": it " + dead.get()));
        } else if (result.stop().isPresent()) {
            results.add(new LevelResult(level, fromSecond, Optional.of(result.figures()), result.soundness(),
                    LevelResult.Step.BROKEN, result.stop().get().words()));
        } else if (result.load().stopped()) {
            return Optional.of(RunOutcome.STOPPED);
        } else {
            results.add(levels.judge(level, fromSecond, result.figures(),
                    run.findings(record, result, OptionalDouble.of(level)), results));
        }
        generator = Optional.of(result.generator());
        return Optional.empty();
    }

    private RunRecord concluded(RunRecord record) {
        Optional<LevelResult> best = levels.best(results);
        LevelResult last = results.getLast();
        boolean died = last.step() == LevelResult.Step.DIED;
        String words = died ? last.verdict() : "";
        RunRecord told = died ? run.withLastOutput(record) : record;
        RunOutcome without = died
                ? RunOutcome.DIED
                : last.step() == LevelResult.Step.UNSOUND ? RunOutcome.FAILED : RunOutcome.NO_LEVEL;
        return best.isEmpty() || stream.isEmpty()
                ? run.ended(told, without, died ? words : "no level passed: " + results.getFirst().verdict())
                : run.ended(told.withResult(stream.get(), best.get().figures().orElseThrow(), best.get().soundness()),
                        RunOutcome.COMPLETE, words);
    }
}
