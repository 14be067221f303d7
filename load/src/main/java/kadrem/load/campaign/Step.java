package kadrem.load.campaign;

import kadrem.core.study.Written;

/** What is being done for a run or a rehearsal, from one launch to the next. */
public sealed interface Step {
    /** In a few words, such as "launching". */
    String words();

    /** Whether load is on the candidate in it. */
    default boolean isLoad() {
        return this == Plain.MEASURING || this instanceof AtLevel;
    }

    /** Steps of which there is nothing more to say. */
    enum Plain implements Step {
        LAUNCHING("launching"), RESETTING("resetting"),
        /** The hosts are watched before there is load, to see what they do by themselves. */
        AT_REST("watching the hosts at rest"), MEASURING("measuring"),
        /** Each visit is made once, without load. */
        REHEARSING("rehearsing"),
        /** A second of load that does not count. */
        WARMING_UP("warming up");

        private final String words;

        Plain(String words) {
            this.words = words;
        }

        @Override
        public String words() {
            return words;
        }
    }

    /**
     * Measuring at a level of a search.
     *
     * @param unit what the level counts, such as "users"
     */
    record AtLevel(double level, String unit) implements Step {
        @Override
        public String words() {
            return "measuring at " + what();
        }

        /** Such as "40 users". */
        public String what() {
            return Written.significant(level) + " " + unit;
        }
    }
}
