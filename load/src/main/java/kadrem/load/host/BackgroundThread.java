package kadrem.load.host;

/** Lets threads that record and watch give way to the lanes, so that they add nothing to their lateness. */
public final class BackgroundThread {
    private BackgroundThread() {
    }

    /**
     * Lowers the scheduling priority of the calling thread where the system allows it (Linux). Java's own thread priorities have
     * no effect there without special rights.
     */
    public static void yieldToLoad() {
        NativeThread.setPriority(0);
    }

    /** The same, and whoever wakes interrupts the calling thread at once; for one that starts neither threads nor programs. */
    public static void yieldToAll() {
        NativeThread.giveWay(0);
    }
}
