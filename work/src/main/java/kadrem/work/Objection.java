package kadrem.work;

import kadrem.load.gate.NotAllowed;

/** Why something is not done. */
public sealed interface Objection {
    /** A clause, which may be followed by what to do about it. */
    String words();

    /** The study's figures were measured elsewhere. */
    record MeasuredElsewhere() implements Objection {
        @Override
        public String words() {
            return "the figures of this study were measured elsewhere, so that there is nothing to send; compare them, and"
                    + " read the verdict";
        }
    }

    /**
     * Something of the study waits for the user's word.
     *
     * @param why whose message says what waits, and how the word is given on the command line
     */
    record Waits(NotAllowed why) implements Objection {
        @Override
        public String words() {
            return "this study would do things outside its own folder that wait for your word";
        }
    }

    /** Something else that is said in a clause, which says what to do about it. */
    record Said(String words) implements Objection {
    }
}
