package kadrem.load.drive.http;

import kadrem.load.drive.Carrier;

/** A carrier whose last answer can be looked at as a whole, as a rehearsal does. */
interface InspectableCarrier extends Carrier {
    /** Keeps the bodies of all answers from now on. */
    void keepAnswers();

    /** The last head that was whole: status line and header lines, as HTTP/1.1 writes them. */
    String head();

    /** The body of the last answer. */
    byte[] answerBody();
}
