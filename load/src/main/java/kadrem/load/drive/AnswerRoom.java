package kadrem.load.drive;

import java.util.concurrent.atomic.AtomicLong;

/**
 * Room for one answer that has to be kept until it is whole. A peer that never ends its answer may not take all memory, and neither may
 * many of them together: there is a bound for each and one for all. One thread takes; any may release.
 */
public final class AnswerRoom {
    /** Most bytes of one answer. */
    public static final long MAX_OF_ONE = 32L << 20;
    /** Twice what clients of gRPC take of one message unless they are told otherwise. Source: grpc-java, GrpcUtil.DEFAULT_MAX_MESSAGE_SIZE. */
    private static final long MIN_SHARE = 8L << 20;
    /** Most bytes of all answers that are kept at the same time. */
    private static final long MAX_OF_ALL = Math.min(192L << 20, Runtime.getRuntime().maxMemory() / 4);
    /** So much of each is not counted among all, so that usual answers take nothing that all share. */
    private static final long NOT_COUNTED = 64L << 10;
    private static final AtomicLong TAKEN = new AtomicLong();

    private final long most;
    private final AtomicLong mine = new AtomicLong();

    public AnswerRoom() {
        this(MAX_OF_ONE);
    }

    private AnswerRoom(long most) {
        this.most = most;
    }

    /** Room for one answer that may take as much as all may. */
    public static AnswerRoom upToAll() {
        return new AnswerRoom(MAX_OF_ALL);
    }

    /**
     * Takes room for further bytes.
     *
     * @return whether there was room; if not, the answer is to be given up
     */
    public boolean take(long bytes) {
        long before = mine.get();
        if (before + bytes > most) {
            return false;
        }
        long more = counted(before + bytes) - counted(before);
        if (more > 0 && TAKEN.addAndGet(more) > MAX_OF_ALL) {
            TAKEN.addAndGet(-more);
            return false;
        }
        mine.addAndGet(bytes);
        return true;
    }

    /**
     * Most bytes of one answer where a library keeps it and can only be told a bound for each.
     *
     * @param users who may keep one each at the same time
     */
    public static int share(int users) {
        return Math.toIntExact(Math.clamp(MAX_OF_ALL / Math.max(1, users), MIN_SHARE, MAX_OF_ONE));
    }

    /** Gives all of it back. */
    public void release() {
        long given = counted(mine.getAndSet(0));
        if (given > 0) {
            TAKEN.addAndGet(-given);
        }
    }

    private static long counted(long bytes) {
        return Math.max(0, bytes - NOT_COUNTED);
    }

    /** Why an answer was given up. */
    public static String objection() {
        return "the answer does not end: " + bounds();
    }

    /** What there is room for. */
    public static String bounds() {
        return "more than " + (MAX_OF_ONE >> 20) + " MiB of it came, or more than " + (MAX_OF_ALL >> 20)
                + " MiB of all that come at the same time";
    }
}
