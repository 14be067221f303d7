package kadrem.core.study;

import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.gate.Reach;
import kadrem.core.study.grammar.Field;

/** A protocol in which calls can be asked. Found by {@link java.util.ServiceLoader}. */
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

    /** What a call has, beside what every call has. */
    List<Field> fields();

    /** Whether a call is written in it that says no other protocol. */
    default boolean isCallsOwnForm() {
        return false;
    }

    /** What a candidate says besides its address. */
    default List<Field> settings() {
        return List.of();
    }

    /** Whether the headers of a call go out with it. */
    default boolean sendsHeaders() {
        return false;
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
     * What is run on this machine, or told to a server that may do more than answer, when a candidate is called; the user's word is
     * asked for it before. Empty for requests that are only answered.
     *
     * @param candidate its id
     */
    default List<Reach> reaches(String candidate, Address address, List<Form> forms) {
        return List.of();
    }

    /** Whether Kadrem's own stand-in for it does nothing but answer, whatever it is told. */
    default boolean isSafeToStandIns() {
        return false;
    }

    /** Files that a candidate's settings name, seen from the study's folder. */
    default List<String> files(Map<String, List<String>> settings) {
        return List.of();
    }
}
