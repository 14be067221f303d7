package kadrem.load.host.local;

import java.io.ObjectInputFilter;

/**
 * What may be made of the bytes that a management connection brings. A peer can send any object, and some take all of a processor or
 * run code as they are made; only those that management beans answer with are let in, few and not deep.
 */
final class Unmarshalling {
    private static final String LET_IN = "maxdepth=20;maxrefs=200000;maxbytes=33554432;maxarray=200000;"
            + "java.lang.*;java.util.*;java.math.*;java.rmi.**;javax.management.**;javax.rmi.ssl.*;"
            + "sun.management.**;com.sun.management.**;sun.rmi.**;com.sun.jndi.rmi.**;java.net.InetAddress;"
            + "java.security.*;!*";
    private static final String ANSWER_MILLIS = "10000";

    static {
        // a peer that takes calls and answers none would be waited for without end
        for (String limit : new String[]{"sun.rmi.transport.tcp.responseTimeout",
                "sun.rmi.transport.tcp.handshakeTimeout"}) {
            if (System.getProperty(limit) == null) {
                System.setProperty(limit, ANSWER_MILLIS);
            }
        }
        if (ObjectInputFilter.Config.getSerialFilter() == null) {
            ObjectInputFilter.Config.setSerialFilter(ObjectInputFilter.Config.createFilter(LET_IN));
        }
    }

    private Unmarshalling() {
    }

    /** Sets the filter of this process, once; nothing else in Kadrem makes objects of bytes in this way. */
    static void guard() {
        // the class has done it
    }
}
