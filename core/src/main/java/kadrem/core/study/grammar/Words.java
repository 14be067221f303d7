package kadrem.core.study.grammar;

import java.time.Duration;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;

/** Texts as they stand in a study file, and what they mean. */
public final class Words {
    private static final Pattern SECRET = Pattern.compile("(?s).*\\{\\{\\s*(env|file):[^{}]+}}.*");

    private Words() {
    }

    /**
     * What is wrong with a text.
     *
     * @param what ends a sentence that begins with the name of the field
     * @param mend what to do about it
     */
    public record Fault(String what, String mend) {
    }

    /** What is wrong with the text of a field, if anything is; of fields that are a text, a number, a time and the like. */
    public static Optional<Fault> fault(Field field, String text) {
        return fault(field.kind(), field.name(), field.example(), text);
    }

    /** @param name of the field, for an example of how it is written */
    public static Optional<Fault> fault(Kind kind, String name, String example, String text) {
        String asExample = "Write it like this: " + name + ": " + example;
        Optional<Fault> unreadable = Optional.of(new Fault("is \"" + text + "\"", asExample));
        return switch (kind) {
            case Kind.Text(Optional<Kind.Form> form) -> form.filter(one -> !one.accepts(text))
                    .map(one -> new Fault("is \"" + text + "\"", one.mend()));
            case Kind.Secret() when !text.isEmpty() && !SECRET.matcher(text).matches() ->
                Optional.of(new Fault("holds a secret itself",
                        "Write a reference instead: {{env:NAME}} for a variable of the environment, {{file:PATH}} for a file"
                                + " outside the study."));
            case Kind.Flag() when flag(text).isEmpty() ->
                Optional.of(new Fault("is \"" + text + "\"", "Use true or false."));
            case Kind.Whole(long least, long most) -> whole(text).isEmpty()
                    ? unreadable
                    : whole(text).filter(value -> value < least || value > most)
                            .map(value -> new Fault("is " + value, "Use a number " + range(least, most) + "."));
            case Kind.Decimal(double least, double most) -> number(text).isEmpty()
                    ? unreadable
                    : number(text).filter(value -> !(value >= least && value <= most))
                            .map(value -> new Fault("is " + plain(value), "Use a number " + range(least, most) + "."));
            case Kind.Share(double least, double most) -> share(text).isEmpty()
                    ? unreadable
                    : share(text).filter(value -> !(value >= least && value <= most))
                            .map(value -> new Fault("is " + text, "Use a share such as " + example + "."));
            case Kind.Time time -> Durations.parse(text).isEmpty()
                    ? unreadable
                    : Durations.parse(text).flatMap(value -> fault(time, value));
            case Kind.Choice choice when !choice.options().contains(text) -> Optional
                    .of(new Fault("is \"" + text + "\"", "Use one of: " + String.join(", ", choice.options()) + "."));
            default -> Optional.empty();
        };
    }

    private static Optional<Fault> fault(Kind.Time time, Duration value) {
        if (time.inWholeSeconds() && value.toNanosPart() != 0) {
            return Optional.of(new Fault("is " + Durations.write(value), "Use whole seconds, such as 5s."));
        }
        return value.compareTo(time.least()) < 0 || value.compareTo(time.most()) > 0
                ? Optional.of(new Fault("is " + Durations.write(value),
                        "Use between " + Durations.write(time.least()) + " and " + Durations.write(time.most()) + "."))
                : Optional.empty();
    }

    private static String range(long least, long most) {
        return most == Long.MAX_VALUE ? "of at least " + least : "from " + least + " to " + most;
    }

    private static String range(double least, double most) {
        double below = Math.nextDown(least);
        boolean above = below == Math.rint(below);
        if (most == Double.MAX_VALUE) {
            return above ? "above " + plain(below) : "of at least " + plain(least);
        }
        return above
                ? "above " + plain(below) + " and up to " + plain(most)
                : "from " + plain(least) + " to " + plain(most);
    }

    private static String plain(double value) {
        return value == Math.rint(value) && Math.abs(value) < 1e15
                ? String.format(Locale.ROOT, "%.0f", value)
                : String.valueOf(value);
    }

    public static Optional<Long> whole(String text) {
        try {
            return Optional.of(Long.parseLong(text.strip().replace("_", "")));
        } catch (NumberFormatException _) {
            return Optional.empty();
        }
    }

    public static Optional<Double> number(String text) {
        try {
            double number = Double.parseDouble(text.strip());
            return Double.isFinite(number) ? Optional.of(number) : Optional.empty();
        } catch (NumberFormatException _) {
            return Optional.empty();
        }
    }

    /** A share, written 0.05 or 5%. */
    public static Optional<Double> share(String text) {
        String plain = text.strip();
        return plain.endsWith("%")
                ? number(plain.substring(0, plain.length() - 1)).map(percent -> percent / 100)
                : number(plain);
    }

    public static Optional<Boolean> flag(String text) {
        return text.equals("true") || text.equals("false") ? Optional.of(text.equals("true")) : Optional.empty();
    }
}
