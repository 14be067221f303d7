package kadrem.desk;

/**
 * Something in the window that can be looked for by its name.
 *
 * @param name by which it is found, such as that of a call
 * @param what it is and where, in a few words
 * @param open shows it, on the station that has it and that is on the stage by then
 */
public record Destination(String name, String what, Runnable open) {
    /** Whether every word of what was typed stands in it, in any case of letters. */
    public boolean isMeantBy(String typed) {
        String all = (name + " " + what).toLowerCase(java.util.Locale.ROOT);
        return java.util.Arrays.stream(typed.strip().toLowerCase(java.util.Locale.ROOT).split("\\s+"))
                .allMatch(all::contains);
    }
}
