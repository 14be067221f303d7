package kadrem.core.study;

import java.time.Instant;
import java.util.List;

import kadrem.core.random.SplitMix64;

/**
 * Rows that vary what calls send. A visit draws a row of each list and keeps it for all of its calls, unless the list is
 * drawn anew for each call.
 */
public sealed interface ValueList {

    /** The name between the double braces of a placeholder. */
    String name();

    /** Number of rows, at least 1; {@link Long#MAX_VALUE} where there is one for every 64 bits drawn. */
    long size();

    /** The text of row {@code row}, counted from 0. */
    String text(long row);

    Draw draw();

    /** This list drawn in another way. */
    ValueList drawn(Draw other);

    /** How rows are chosen. */
    record Draw(Order order, Keep keep) {
        /** At random, kept for a visit. */
        public static final Draw USUAL = new Draw(Order.RANDOM, Keep.VISIT);
    }

    /** In which order rows come. */
    enum Order {
        /** Any row each time, by the seed. */
        RANDOM("random"),
        /** One after the other, from the first again after the last; users take turns. */
        SEQUENTIAL("sequential"),
        /** A row for each user, which it keeps, as accounts are. In the open model each arrival is a user of its own. */
        PER_USER("per-user");

        private final String id;

        Order(String id) {
            this.id = id;
        }

        /** The word used in files. */
        public String id() {
            return id;
        }
    }

    /** How long a row is kept. */
    enum Keep {
        /** For all calls of a visit. */
        VISIT,
        /** For one call; the next draws another. */
        CALL;

        /** The word used in files. */
        public String id() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    private static long bits(long row, long place) {
        return SplitMix64.mix(row + (place + 1) * SplitMix64.GAMMA);
    }

    /** Whole numbers {@code from} to {@code to}, both included, each alike. */
    record NumberRange(String name, long from, long to, Draw draw) implements ValueList {
        public NumberRange(String name, long from, long to) {
            this(name, from, to, Draw.USUAL);
        }

        @Override
        public long size() {
            return to - from + 1;
        }

        @Override
        public String text(long row) {
            return Long.toString(from + row);
        }

        @Override
        public ValueList drawn(Draw other) {
            return new NumberRange(name, from, to, other);
        }
    }

    /** Whole numbers of which few are asked for often: number i (from 1) with a weight of 1 / i^exponent. */
    record Zipf(String name, long from, long to, double exponent, Draw draw) implements ValueList {
        /** Most numbers, since the distribution is kept as a table. */
        public static final long MAX = 1_000_000;

        @Override
        public long size() {
            return to - from + 1;
        }

        @Override
        public String text(long row) {
            return Long.toString(from + row);
        }

        @Override
        public ValueList drawn(Draw other) {
            return new Zipf(name, from, to, exponent, other);
        }
    }

    /** The values of one column of a CSV file of the study folder, or values written out in the study ({@code file} empty). */
    record Listed(String name, String file, String column, List<String> rows, Draw draw) implements ValueList {
        public Listed {
            rows = List.copyOf(rows);
        }

        public Listed(String name, String file, String column, List<String> rows) {
            this(name, file, column, rows, Draw.USUAL);
        }

        @Override
        public long size() {
            return rows.size();
        }

        @Override
        public String text(long row) {
            return rows.get(Math.toIntExact(row));
        }

        @Override
        public ValueList drawn(Draw other) {
            return new Listed(name, file, column, rows, other);
        }
    }

    /** Identifiers of the form of RFC 9562, version 4, each practically unlike every other. */
    record Uuid(String name, Draw draw) implements ValueList {
        @Override
        public long size() {
            return Long.MAX_VALUE;
        }

        @Override
        public String text(long row) {
            long high = bits(row, 1) & ~0xF000L | 0x4000L;
            long low = bits(row, 2) & 0x3FFFFFFFFFFFFFFFL | 0x8000000000000000L;
            return new java.util.UUID(high, low).toString();
        }

        @Override
        public ValueList drawn(Draw other) {
            return new Uuid(name, other);
        }
    }

    /** Words of lower-case letters. */
    record Text(String name, int length, Draw draw) implements ValueList {
        private static final int LETTERS = 26;

        @Override
        public long size() {
            return Long.MAX_VALUE;
        }

        @Override
        public String text(long row) {
            var text = new StringBuilder(length);
            for (int i = 0; i < length; i++) {
                text.append((char) ('a' + Math.unsignedMultiplyHigh(bits(row, i), LETTERS)));
            }
            return text.toString();
        }

        @Override
        public ValueList drawn(Draw other) {
            return new Text(name, length, other);
        }
    }

    /**
     * Instants of whole seconds from {@code from} to {@code to}, both included. They are drawn and not read from a clock,
     * so that every candidate is sent the same.
     */
    record Timestamp(String name, Instant from, Instant to, boolean asSeconds, Draw draw) implements ValueList {
        @Override
        public long size() {
            return to.getEpochSecond() - from.getEpochSecond() + 1;
        }

        @Override
        public String text(long row) {
            Instant instant = from.plusSeconds(row);
            return asSeconds ? Long.toString(instant.getEpochSecond()) : instant.toString();
        }

        @Override
        public ValueList drawn(Draw other) {
            return new Timestamp(name, from, to, asSeconds, other);
        }
    }
}
