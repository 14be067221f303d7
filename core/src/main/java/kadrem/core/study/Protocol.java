package kadrem.core.study;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A protocol in which calls can be asked besides HTTP, which is a call's own form. Found by {@link java.util.ServiceLoader}.
 */
public interface Protocol {
    /** The word used in study files: the group of a call that holds its form, and of a candidate that holds its settings. */
    String id();

    /** "SQL by JDBC". */
    String words();

    /**
     * The address that {@code text} is.
     *
     * @return empty where it is none of this protocol
     */
    Optional<Address> address(String text);

    /** Whether an address alone tells the protocol; otherwise a candidate has to name it. */
    default boolean isFoundByAddress() {
        return true;
    }

    /** What an address looks like. */
    String exampleAddress();

    /** What a call has. */
    List<CallField> fields();

    /** What a candidate says besides its address. */
    default List<CallField> settings() {
        return List.of();
    }

    /** Whether a candidate's {@code wire} has an effect. */
    default boolean heedsWire() {
        return false;
    }

    /** Whether a candidate's {@code signIn} has an effect; otherwise its settings say who signs in, if anybody does. */
    default boolean heedsSignIn() {
        return false;
    }

    /** What is wrong with a form, in words that end a sentence "the form …"; empty where nothing is. */
    default Optional<String> objection(Form form) {
        return Optional.empty();
    }

    /** What is wrong with a candidate's address and settings, in words that end a sentence "the candidate …". */
    default Optional<String> objection(Address address, Map<String, List<String>> settings) {
        return Optional.empty();
    }

    /**
     * What is run on this machine, or told to a server that may run it, when a candidate is connected to and called; the user's
     * word is asked for it before. Empty for requests that are only answered.
     */
    default List<String> commands(Address address, List<Form> forms) {
        return List.of();
    }
}
