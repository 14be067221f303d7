package kadrem.load.drive.http;

import kadrem.core.measure.FailureKind;

/** Who has a connection of HTTP/2, and is told what becomes of it. On the lane. */
interface Http2Owner {
    /** The server has sent its settings: requests may follow. */
    void greeted(Http2Streams streams);

    /** A further stream may be opened. */
    void roomMade();

    /** No further stream can be opened on it; those that are open go on. */
    void ending(Http2Streams streams);

    /** It is over, for a reason that later calls do not share. */
    void over(Http2Streams streams, FailureKind kind, String detail);
}
