package kadrem.work;

/** The program that runs. */
public final class Program {
    private Program() {
    }

    /** What {@code {{kadrem}}} stands for in launch commands: the command by which this program was started. */
    public static String command() {
        return System.getProperty("kadrem.program", "kadrem");
    }
}
