package kadrem.core.study;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class AddressTest {
    private static java.util.Optional<Address> read(String text) {
        return Address.ofHost(text, "grpc", "grpc", "grpcs", 50051);
    }

    @Test
    void hostPortAndPathAreRead() {
        assertThat(read("grpc://127.0.0.1:7000")).contains(new Address("grpc", "grpc", "127.0.0.1", 7000, "", false));
        assertThat(read("grpcs://board.example/x/")).contains(
                new Address("grpc", "grpcs", "board.example", 50051, "/x", true));
        Address six = read("grpc://[::1]:7000").orElseThrow();
        assertThat(six.host()).isEqualTo("::1");
        assertThat(six.isLoopback()).isTrue();
        assertThat(six).hasToString("grpc://[::1]:7000");
        assertThat(read("grpcs://board.example").orElseThrow().isLoopback()).isFalse();
    }

    @ParameterizedTest
    @ValueSource(strings = {"http://127.0.0.1", "grpc://", "grpc://a b", "grpc://me@h:1", "grpc://h:0",
            "grpc://h:70000",
            "grpc://h:x", "grpc://h?x=1", "grpc:h", "GRPC://h", "grpc://h#x"})
    void whatIsNoneIsRefused(String text) {
        assertThat(read(text)).isEmpty();
    }

    @Test
    void anAddressWithoutAHostIsWrittenAsItWasRead() {
        var store = new Address("sql", "jdbc", "localhost", 0, "sqlite:board.db", false);
        assertThat(store).hasToString("jdbc:sqlite:board.db");
        assertThat(store.hasPort()).isFalse();
        assertThat(store.isLoopback()).isTrue();
        assertThat(new Address("h", 80, "/x").speaking("graphql")).hasToString("http://h/x");
    }
}
