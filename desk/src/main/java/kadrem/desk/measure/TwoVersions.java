package kadrem.desk.measure;

/**
 * Two versions of a candidate that are to be measured beside each other.
 *
 * @param candidate its id
 * @param areCommits whether the versions are commits; launch commands otherwise
 * @param build shell command that builds a commit; blank where nothing is to be built
 */
public record TwoVersions(String candidate, boolean areCommits, String before, String after, String build) {
}
