package kadrem.standins.berths;

/** A place for one vessel; length in metres, depth in decimetres. */
record Berth(int id, String quay, int number, int length, int depth) {
}
