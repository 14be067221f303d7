package kadrem.cli;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

import kadrem.core.check.StudyGrammar;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Pacing;
import kadrem.core.study.ThinkTime;
import kadrem.core.study.grammar.Durations;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.grammar.Grammar;
import kadrem.core.study.grammar.Words;
import kadrem.files.study.ThinkTimes;
import picocli.CommandLine.ITypeConverter;
import picocli.CommandLine.TypeConversionException;

/** An option that is a field of the study file: it may be what the field may be. */
abstract class FieldOption<T> implements ITypeConverter<T> {
    private static final Grammar GRAMMAR = StudyGrammar.measured(List.of());

    private final Field field;
    private final Function<String, Optional<T>> reading;

    FieldOption(String path, Function<String, Optional<T>> reading) {
        field = GRAMMAR.field(path);
        this.reading = reading;
    }

    @Override
    public T convert(String text) {
        Optional<Words.Fault> fault = Words.fault(field, text);
        if (fault.isEmpty()) {
            Optional<T> read = reading.apply(text);
            if (read.isPresent()) {
                return read.get();
            }
        }
        String what = fault.map(Words.Fault::what).orElse("is \"" + text + "\"");
        String mend = fault.map(Words.Fault::mend).filter(one -> !one.contains(field.name() + ":"))
                .orElse("Write something like " + field.example() + ".");
        throw new TypeConversionException("it " + what + ". " + mend);
    }

    static final class Measured extends FieldOption<Duration> {
        Measured() {
            super("load.measured", Durations::parse);
        }
    }

    static final class WarmUp extends FieldOption<Duration> {
        WarmUp() {
            super("load.warmUp", Durations::parse);
        }
    }

    static final class Timeout extends FieldOption<Duration> {
        Timeout() {
            super("load.timeout", Durations::parse);
        }
    }

    static final class Pause extends FieldOption<ThinkTime> {
        Pause() {
            super("load.thinkTime", ThinkTimes::parse);
        }
    }

    static final class Users extends FieldOption<Integer> {
        Users() {
            super("load.users", text -> Words.whole(text).map(Long::intValue));
        }
    }

    static final class Rounds extends FieldOption<Integer> {
        Rounds() {
            super("plan.rounds", text -> Words.whole(text).map(Long::intValue));
        }
    }

    static final class Connections extends FieldOption<Integer> {
        Connections() {
            super("load.connections", text -> Words.whole(text).map(Long::intValue));
        }
    }

    static final class Arrivals extends FieldOption<Double> {
        Arrivals() {
            super("load.arrivalsPerSecond", Words::number);
        }
    }

    static final class Spacing extends FieldOption<LoadProfile.Spacing> {
        Spacing() {
            super("load.spacing", LoadProfile.Spacing::byId);
        }
    }

    static final class Waiting extends FieldOption<Pacing> {
        Waiting() {
            super("plan.pacing", Pacing::byId);
        }
    }

    static final class Method extends FieldOption<String> {
        Method() {
            super("workload.visits.calls.method", text -> Optional.of(text.toUpperCase(java.util.Locale.ROOT)));
        }
    }

    static final class Margin extends FieldOption<Double> {
        Margin() {
            super("question.decide.margin", Words::share);
        }
    }

    static final class Significance extends FieldOption<Double> {
        Significance() {
            super("question.significance", Words::share);
        }
    }
}
