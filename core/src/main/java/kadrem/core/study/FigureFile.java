package kadrem.core.study;

/**
 * Figures that were measured elsewhere and are compared without a load of Kadrem's own.
 *
 * @param file seen from the study folder
 * @param unit by which its values are multiplied to be in the metric's own unit
 */
public record FigureFile(String file, Metric metric, double unit) {
}
