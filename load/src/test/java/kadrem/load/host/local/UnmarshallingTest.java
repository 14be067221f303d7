package kadrem.load.host.local;

import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.ObjectOutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.util.HashSet;
import java.util.Set;

import kadrem.load.host.SourceFailure;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Peers at a management port that are no virtual machines. */
class UnmarshallingTest {
    private static final int ACCEPTED = 0x4e;
    private static final int RETURNED = 0x51;
    private static final int NESTED = 60;

    /** Sets of which each holds two of the next, by two ways: to find the hash of the first takes 2^60 steps. */
    private static Set<Object> endless() {
        Set<Object> first = new HashSet<>();
        Set<Object> one = first;
        Set<Object> other = new HashSet<>();
        for (int i = 0; i < NESTED; i++) {
            Set<Object> nextOne = new HashSet<>();
            Set<Object> nextOther = new HashSet<>();
            nextOne.add("not the other");
            one.add(nextOne);
            one.add(nextOther);
            other.add(nextOne);
            other.add(nextOther);
            one = nextOne;
            other = nextOther;
        }
        return first;
    }

    /** The answers of a registry of RMI. Source: Java Remote Method Invocation, chapter 10, "RMI Wire Protocol". */
    private static void answer(Socket socket) throws IOException {
        var in = new DataInputStream(socket.getInputStream());
        var out = new DataOutputStream(socket.getOutputStream());
        in.readFully(new byte[7]);
        out.writeByte(ACCEPTED);
        out.writeUTF("127.0.0.1");
        out.writeInt(1);
        out.flush();
        in.readUTF();
        in.readInt();
        in.read();
        out.writeByte(RETURNED);
        var objects = new ObjectOutputStream(out) {
            @Override
            protected void annotateClass(Class<?> type) throws IOException {
                writeObject(null);
            }
        };
        objects.writeByte(1);
        objects.writeInt(0);
        objects.writeLong(0);
        objects.writeShort(0);
        objects.writeObject(endless());
        objects.flush();
        in.read();
    }

    @Test
    @Timeout(value = 60, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
    void anObjectThatTakesForEverToMakeIsNotMade() throws Exception {
        try (var listener = new ServerSocket(0, 8, InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual().start(() -> {
                try {
                    while (true) {
                        try (Socket socket = listener.accept()) {
                            answer(socket);
                        }
                    }
                } catch (IOException _) {
                    // the test is over
                }
            });
            assertThatThrownBy(() -> JavaMachine.at("jvm", "127.0.0.1:" + listener.getLocalPort()))
                    .isInstanceOf(SourceFailure.class);
        }
    }
}
