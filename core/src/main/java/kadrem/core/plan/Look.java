package kadrem.core.plan;

/**
 * A look at a study at which something may be said. A fixed plan is judged at its end, and, gone on with, each time its rounds have
 * doubled. All looks together spend the significance: the end of the plan all but a twentieth of it, which is kept back; the first
 * look beyond half of that, each further one half of what is left. So the chance that anything false is said at any look is at
 * most the significance, however long one goes on and whatever one goes on for (Bonferroni over looks; spending: Lan, DeMets: Discrete
 * sequential boundaries for clinical trials, Biometrika 70, 1983).
 * <p>
 * A twentieth costs a fixed plan nothing where it has few rounds: the exact test has steps, and of up to a dozen items that share 5 % it
 * takes as many rounds to settle one. Of larger plans it costs 2 % of their rounds.
 * <p>
 * Sittings are looked at when there are three, six, twelve and so on, of which each spends half of what is left: few have planned for a number
 * of days, and most go on.
 *
 * @param count rounds, or sittings, that are judged
 * @param of what is counted
 * @param significance what this look spends
 * @param beyond how many looks there were before it: 0 at the end of a plan; below 0 where there is no other look
 */
public record Look(int count, Unit of, double significance, int beyond) {
    /** Fewer sittings say nothing of how sittings differ. */
    public static final int MIN_SITTINGS = 3;
    private static final double KEPT_BACK = 0.05;

    /** What is counted. */
    public enum Unit {
        ROUNDS("round"), SITTINGS("sitting");

        private final String one;

        Unit(String one) {
            this.one = one;
        }

        /** "1 round", "6 sittings". */
        public String words(int count) {
            return count + " " + one + (count == 1 ? "" : "s");
        }
    }

    /** The look at the end of a plan. */
    public static Look atEnd(int planned, double significance) {
        return new Look(planned, Unit.ROUNDS, ofEnd(significance), 0);
    }

    /** What the end of a fixed plan spends of the significance. */
    public static double ofEnd(double significance) {
        return significance * (1 - KEPT_BACK);
    }

    /** The last look that so many rounds allow; before the end of the plan all rounds so far, of which nothing may be concluded yet. */
    public static Look last(int planned, int made, double significance) {
        if (made < planned) {
            return new Look(made, Unit.ROUNDS, ofEnd(significance), 0);
        }
        Look look = atEnd(planned, significance);
        for (double spends = KEPT_BACK / 2; look.next() <= made; spends /= 2) {
            look = new Look(look.next(), Unit.ROUNDS, significance * spends, look.beyond + 1);
        }
        return look;
    }

    /**
     * The last look at something that may be ended after any round, by a test that holds at one look only: at {@code first} rounds it spends
     * half of the significance, and each time they have doubled half of what is left. Fewer rounds than the first are no look.
     */
    public static Look whileAdded(int first, int made, double significance) {
        return doubling(first, Unit.ROUNDS, made, significance);
    }

    /** The last look that so many whole sittings allow, {@value #MIN_SITTINGS} at least. */
    public static Look atSittings(int made, double significance) {
        return doubling(MIN_SITTINGS, Unit.SITTINGS, made, significance);
    }

    private static Look doubling(int first, Unit unit, int made, double significance) {
        var look = new Look(first, unit, significance / 2, 0);
        while (look.next() <= made) {
            look = new Look(look.next(), unit, look.significance / 2, look.beyond + 1);
        }
        return look;
    }

    /** A look that is the only one: what is judged is valid at any stop, or was made elsewhere. */
    public static Look only(int rounds, double significance) {
        return new Look(rounds, Unit.ROUNDS, significance, -1);
    }

    /** Whether there are other looks, with which it shares the significance. */
    public boolean isOneOfSeveral() {
        return beyond >= 0;
    }

    public boolean isOfSittings() {
        return of == Unit.SITTINGS;
    }

    /** The rounds, or sittings, in all at which a study that is through is judged again. */
    public int next() {
        return 2 * Math.max(1, count);
    }

    /** "14 rounds": when this was. */
    public String words() {
        return of.words(count);
    }

    /** "28 rounds": when the study is judged again. */
    public String nextWords() {
        return of.words(next());
    }
}
