package kadrem.load.engine;

import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;

/** Where loads are made. */
public interface LoadMaker {
    /**
     * Opens the connections and makes what belongs ahead of the load.
     *
     * @param secrets of the study; a maker in another process reads them there, from the same environment and folder
     * @throws UnusableCall if a call cannot be made ready; the message says why
     */
    LoadSession prepare(LoadOrder order, Secrets secrets, LoadListener listener) throws UnusableCall;
}
