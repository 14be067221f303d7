package kadrem.core.study;

/**
 * Something wrong in a study.
 *
 * @param path where, e.g. {@code candidates[1].launch.command}
 * @param what what is wrong, a clause that follows the path
 * @param mend what to do about it, a sentence
 */
public record Problem(String path, Severity severity, String what, String mend) {

    /** Whether the study can be used in spite of it. */
    public enum Severity {
        ERROR, WARNING
    }

    public static Problem error(String path, String what, String mend) {
        return new Problem(path, Severity.ERROR, what, mend);
    }

    public static Problem warning(String path, String what, String mend) {
        return new Problem(path, Severity.WARNING, what, mend);
    }
}
