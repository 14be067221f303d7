/** What lanes and drivers share of the network: the system's way to wait for sockets, and the loop of a lane. */
@NullMarked
package kadrem.load.net;

import org.jspecify.annotations.NullMarked;
