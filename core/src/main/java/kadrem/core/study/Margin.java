package kadrem.core.study;

/**
 * The smallest difference that would matter.
 *
 * @param size a ratio less 1 (0.05 is 5 %), or an absolute difference
 */
public record Margin(Scale scale, double size) {
    /** How far it reaches to either side, as differences are taken. */
    public double zone() {
        return scale == Scale.RATIO ? Math.log1p(size) : size;
    }

    /** Its lower end, as estimates are shown. */
    public double low() {
        return scale == Scale.RATIO ? 1 / (1 + size) : -size;
    }

    /** Its upper end, as estimates are shown. */
    public double high() {
        return scale == Scale.RATIO ? 1 + size : size;
    }

    /** "5 %" or "0.1 points". */
    public String words() {
        return scale.words(size);
    }
}
