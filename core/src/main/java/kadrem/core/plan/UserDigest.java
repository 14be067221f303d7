package kadrem.core.plan;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** The running hash of one closed-model user's visits, kept at the lengths of {@link StreamDigest}. One thread. */
public final class UserDigest {
    private final long user;
    private long hash = StreamHash.START;
    private long visits;
    private long nextLength = 1;
    private long[] kept = new long[32];
    private int keptCount;

    public UserDigest(long user) {
        this.user = user;
    }

    public void add(LoadStream.Draw draw) {
        hash = StreamHash.with(hash, draw);
        visits++;
        if (visits == nextLength) {
            if (keptCount == kept.length) {
                kept = Arrays.copyOf(kept, keptCount * 2);
            }
            kept[keptCount++] = hash;
            nextLength = StreamDigest.nextLength(nextLength);
        }
    }

    /** The digest of all users together, over the lengths that each of them reached. */
    public static StreamDigest combine(List<UserDigest> users) {
        int common = users.stream().mapToInt(user -> user.keptCount).min().orElse(0);
        var parts = new ArrayList<StreamDigest.Part>();
        long length = 1;
        for (int i = 0; i < common; i++) {
            long sum = 0;
            for (UserDigest user : users) {
                sum += StreamHash.with(StreamHash.with(StreamHash.START, user.user), user.kept[i]);
            }
            parts.add(new StreamDigest.Part(length, sum));
            length = StreamDigest.nextLength(length);
        }
        return new StreamDigest(StreamDigest.Model.CLOSED, parts);
    }
}
