package kadrem.core.plan;

import java.util.List;

/**
 * What a run sent, in a few numbers, so that two runs can be shown to have sent the same.
 * <p>
 * Open model: one part. Its hash is the sum (modulo 2^64) over arrivals of {@link StreamHash} over (arrival number, due
 * instant in ns after the start, visit, rows); its length is the number of arrivals.
 * <p>
 * Closed model: a faster candidate is asked more, so the hash runs user by user, and there is a part for each of a fixed
 * row of lengths (1, 2, 3, 4, 5, 6, 7, 8, 10, 12, 15, …) that all users reached. The part of length n is the sum over
 * users of the hash over (user, hash of the user's first n visits). Two runs are compared at the longest length that
 * both have.
 * <p>
 * Crowds: no part of its own, but the digest of each crowd, in the order of the study.
 */
public record StreamDigest(Model model, List<Part> parts, List<StreamDigest> crowds) {
    public StreamDigest {
        parts = List.copyOf(parts);
        crowds = List.copyOf(crowds);
    }

    /** The digest of one crowd. */
    public StreamDigest(Model model, List<Part> parts) {
        this(model, parts, List.of());
    }

    /** The digest of all crowds of a run: that of the only one, where there is one. */
    public static StreamDigest of(List<StreamDigest> crowds) {
        return crowds.size() == 1 ? crowds.getFirst() : new StreamDigest(Model.CROWDS, List.of(), crowds);
    }

    public enum Model {
        OPEN, CLOSED, CROWDS
    }

    /** The hash over the first {@code length} arrivals, or over the first {@code length} visits of each user. */
    public record Part(long length, long hash) {
    }

    /** How the streams of two runs relate. */
    public enum Match {
        SAME, DIFFERENT, NOTHING_IN_COMMON
    }

    /** The length that follows {@code length} in the row of lengths of the closed model: a quarter more. */
    public static long nextLength(long length) {
        return length + Math.max(1, length / 4);
    }

    public Match match(StreamDigest other) {
        if (model != other.model) {
            return Match.DIFFERENT;
        }
        if (model == Model.CROWDS) {
            return ofCrowds(other);
        }
        if (model == Model.OPEN) {
            return parts.equals(other.parts) ? Match.SAME : Match.DIFFERENT;
        }
        int common = Math.min(parts.size(), other.parts.size());
        if (common == 0) {
            return Match.NOTHING_IN_COMMON;
        }
        return parts.get(common - 1).equals(other.parts.get(common - 1)) ? Match.SAME : Match.DIFFERENT;
    }

    /** The worst of the crowds' matches. */
    private Match ofCrowds(StreamDigest other) {
        if (crowds.size() != other.crowds.size()) {
            return Match.DIFFERENT;
        }
        Match worst = Match.SAME;
        for (int i = 0; i < crowds.size(); i++) {
            Match one = crowds.get(i).match(other.crowds.get(i));
            worst = one == Match.SAME || worst == Match.DIFFERENT ? worst : one;
        }
        return worst;
    }
}
