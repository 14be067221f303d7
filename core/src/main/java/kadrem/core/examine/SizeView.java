package kadrem.core.examine;

/** The answers of a call in a second of any phase: how many were whole, and how many bytes they had together. */
public record SizeView(int second, long answered, long bytes) {
}
