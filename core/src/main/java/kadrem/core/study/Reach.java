package kadrem.core.study;

/** Where a candidate answers and how it is reached there. */
public record Reach(Address address, Access access) {
}
