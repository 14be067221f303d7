package kadrem.core.measure;

/**
 * One thing that a source of the host watch tells of, second by second.
 *
 * @param source name of the source, such as "this host"
 * @param name such as "CPU"
 * @param unit such as "% of a core" or "bytes/s"
 */
public record HostSeries(String source, String name, String unit, SeriesRole role) {
    /** How it is named on screens. */
    public String words() {
        return source + ": " + name;
    }
}
