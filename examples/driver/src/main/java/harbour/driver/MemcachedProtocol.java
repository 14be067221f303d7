package harbour.driver;

import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Address;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.grammar.Field;
import kadrem.core.study.Form;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Template;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.BlockingProtocol;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;

/**
 * A complete driver: the text protocol of memcached, as its protocol.txt describes it. It tells what its addresses and calls look
 * like, turns calls into what is sent, and sends it; users, clocks, recording and everything else are Kadrem's.
 */
public final class MemcachedProtocol implements BlockingProtocol {
    private static final String ID = "memcached";

    @Override
    public String id() {
        return ID;
    }

    @Override
    public String words() {
        return "memcached";
    }

    @Override
    public String exampleAddress() {
        return "memcached://127.0.0.1:11211";
    }

    @Override
    public Optional<Address> address(String text) {
        return Address.ofHost(text, ID, "memcached", "memcached", 11211);
    }

    /** These become the fields of the group "memcached" in study.yaml, and of the form in the window. */
    @Override
    public List<Field> fields() {
        return List.of(Field.choice("does", "command", "get", "set", "delete"),
                Field.line("key", "key", "berth:{{berth}}").needed(),
                Field.lines("value", "value, where it is set", "{\"id\": {{berth}}}"));
    }

    @Override
    public Optional<String> objection(Form form) {
        return form.text("does").equals("set") == form.text("value").isEmpty()
                ? Optional.of("needs a value to set, and only then")
                : Optional.empty();
    }

    @Override
    public Client<?> client(DriverOrder order) throws UnusableCall {
        return new Commands(order);
    }

    /** The calls of a workload, compiled before the run. */
    private static final class Commands implements Client<byte[]> {
        private final DriverOrder order;
        private final List<Command> calls = new ArrayList<>();

        private record Command(String does, Template key, Template value) {
        }

        Commands(DriverOrder order) throws UnusableCall {
            this.order = order;
            for (Call call : order.workload().calls()) {
                Form form = call.form(ID).orElseThrow(() -> new UnusableCall(call.name() + " has no form " + ID));
                calls.add(new Command(form.text("does").isEmpty() ? "get" : form.text("does"),
                        Template.of(order.slots(), Body.Kind.TEXT, form.text("key")),
                        Template.of(order.slots(), Body.Kind.guess(form.text("value")), form.text("value"))));
            }
        }

        /** What is sent, with a user's values in it. */
        @Override
        public byte[] ready(int call, CallValues values) {
            Command command = calls.get(call);
            String value = command.value().fill(values);
            String line = command.does() + " " + command.key().fill(values);
            return (command.does().equals("set")
                    ? line + " 0 0 " + value.getBytes(StandardCharsets.UTF_8).length + "\r\n" + value + "\r\n"
                    : line + "\r\n").getBytes(StandardCharsets.UTF_8);
        }

        @Override
        public String shown(int call, CallValues values) {
            Command command = calls.get(call);
            return command.does() + " " + command.key().shown(values) + "\n" + command.value().shown(values);
        }

        @Override
        public UserConnection<byte[]> connect() throws CallFailure {
            try {
                return new Connection(order);
            } catch (ConnectException cause) {
                throw new CallFailure(FailureKind.REFUSED, 0, "");
            } catch (IOException cause) {
                throw new CallFailure(FailureKind.NO_CONNECTION, 0, String.valueOf(cause.getMessage()));
            }
        }

        @Override
        public String statusWord(int status) {
            return status == 2 ? "ERROR" : "";
        }

        @Override
        public void close() {
        }
    }

    /** One user's connection. */
    private static final class Connection implements Client.UserConnection<byte[]> {
        private final Socket socket = new Socket();
        private final InputStream in;
        private boolean broken;

        Connection(DriverOrder order) throws IOException {
            socket.setTcpNoDelay(true);
            socket.connect(new InetSocketAddress(order.address().host(), order.address().port()), 5000);
            in = new BufferedInputStream(socket.getInputStream());
        }

        @Override
        public Client.Answer call(int call, byte[] ready, boolean keeps, Client.Marks marks) throws CallFailure {
            try {
                socket.getOutputStream().write(ready);
                String line = line();
                if (!line.startsWith("VALUE ")) {
                    if (line.contains("ERROR")) {
                        throw new CallFailure(FailureKind.UNEXPECTED_STATUS, 2, line);
                    }
                    return new Client.Answer(1, ready.length, line.length() + 2, line, "text/plain", new byte[0]);
                }
                byte[] value = in.readNBytes(Integer.parseInt(line.split(" ")[3]));
                line();
                line();
                return new Client.Answer(1, ready.length, line.length() + value.length + 9, "a value",
                        value.length > 0 && value[0] == '{' ? "application/json" : "text/plain", value);
            } catch (IOException cause) {
                broken = true;
                throw new CallFailure(FailureKind.RESET, 0, String.valueOf(cause.getMessage()));
            }
        }

        private String line() throws IOException {
            var line = new ByteArrayOutputStream();
            for (int next = in.read(); next != '\n'; next = in.read()) {
                if (next < 0) {
                    throw new IOException("the connection was closed");
                }
                line.write(next);
            }
            return line.toString(StandardCharsets.UTF_8).strip();
        }

        @Override
        public void cancel() {
            close();
        }

        @Override
        public boolean isUsable() {
            return !broken;
        }

        @Override
        public void close() {
            try {
                socket.close();
            } catch (IOException _) {
                // nothing is lost
            }
        }
    }
}
