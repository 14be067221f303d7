/** A service whose cost is known, to see whether a difference of known size is found. */
package kadrem.standins.known;
