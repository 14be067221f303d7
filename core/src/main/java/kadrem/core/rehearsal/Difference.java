package kadrem.core.rehearsal;

/**
 * A place where a candidate's answer differs from the baseline's.
 *
 * @param call name of the call
 * @param candidate id of the candidate that is compared
 * @param where "status", "header NAME", a JSONPath, an XPath, or "body"
 * @param baseline what the baseline answered there; empty where it has nothing
 * @param value what the candidate answered there; empty where it has nothing
 */
public record Difference(String call, String candidate, String where, String baseline, String value) {

    /** "one-berth, loop: $.free is 12, and 13 for the baseline". */
    public String sentence() {
        return call + ", " + candidate + ": " + where + " is " + shown(value) + ", and " + shown(baseline)
                + " for the baseline";
    }

    private static String shown(String text) {
        return text.isEmpty() ? "missing" : text;
    }
}
