package kadrem.core.study;

/** Where a candidate answers and how it is reached there. */
public record Entrance(Address address, Access access) {
}
