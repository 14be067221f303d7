package kadrem.core.study;

/**
 * What somebody noted of a moment of a run.
 *
 * @param run id of the run
 * @param second second after the start of the warm-up
 */
public record Annotation(String run, int second, String text) {
}
