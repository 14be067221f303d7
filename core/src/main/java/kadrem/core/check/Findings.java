package kadrem.core.check;

import java.util.ArrayList;
import java.util.List;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import kadrem.core.study.Call;
import kadrem.core.study.Problem;
import kadrem.core.study.SecretReference;

/** The problems that are found, in the order in which they are told. */
final class Findings {
    private final List<Problem> problems = new ArrayList<>();

    void error(String path, String what, String mend) {
        problems.add(Problem.error(path, what, mend));
    }

    void warning(String path, String what, String mend) {
        problems.add(Problem.warning(path, what, mend));
    }

    void range(String path, double value, double least, double most) {
        if (!(value >= least && value <= most)) {
            error(path, "is " + plain(value), "Use a number from " + plain(least) + " to " + plain(most) + ".");
        }
    }

    static String plain(double value) {
        return value == Math.rint(value) ? String.valueOf((long) value) : String.valueOf(value);
    }

    void pattern(String path, String regex) {
        try {
            Pattern.compile(regex);
        } catch (PatternSyntaxException cause) {
            error(path, "holds a regular expression that cannot be read: " + cause.getDescription() + " in " + regex,
                    "Mend the expression. It takes a time in proportion to the text, so it can neither look ahead or behind"
                            + " nor refer back.");
        }
    }

    /** Whether a text refers to a secret. */
    static boolean refersToSecret(String text) {
        return Call.placeholders(text).stream().anyMatch(SecretReference::isOne);
    }

    List<Problem> all() {
        return List.copyOf(problems);
    }
}
