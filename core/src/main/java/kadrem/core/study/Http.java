package kadrem.core.study;

import java.util.List;
import java.util.Optional;

import kadrem.core.study.grammar.Field;

/** HTTP as studies know it: a call is written in it unless it says otherwise. */
public class Http implements Protocol {
    public static final String ID = "http";

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "HTTP";
    }

    @Override
    public Optional<Address> address(String text) {
        return Address.ofHost(text, ID, "http", "http", Address.usualPort(false))
                .or(() -> Address.ofHost(text, ID, "http", "https", Address.usualPort(true)));
    }

    @Override
    public String exampleAddress() {
        return "http://127.0.0.1:8080";
    }

    /** None beside those that every call has. */
    @Override
    public List<Field> fields() {
        return List.of();
    }

    @Override
    public boolean isCallsOwnForm() {
        return true;
    }

    @Override
    public boolean sendsHeaders() {
        return true;
    }

    @Override
    public boolean heedsWire() {
        return true;
    }

    @Override
    public boolean heedsSignIn() {
        return true;
    }
}
