package kadrem.load.drive.mqtt;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;

import com.hivemq.client.mqtt.MqttClientBuilder;
import com.hivemq.client.mqtt.MqttClientSslConfig;
import com.hivemq.client.mqtt.datatypes.MqttQos;
import com.hivemq.client.mqtt.exceptions.ConnectionFailedException;
import com.hivemq.client.mqtt.exceptions.MqttClientStateException;
import com.hivemq.client.mqtt.mqtt3.Mqtt3AsyncClient;
import com.hivemq.client.mqtt.mqtt3.Mqtt3ClientBuilder;
import com.hivemq.client.mqtt.mqtt5.Mqtt5AsyncClient;
import com.hivemq.client.mqtt.mqtt5.Mqtt5ClientBuilder;
import kadrem.core.measure.FailureKind;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.Tls;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Template;
import kadrem.load.drive.UnusableCall;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;

/** The messages of a workload, for one broker, by HiveMQ's client. */
final class MqttClient implements Client<MqttClient.Message> {
    private static final int GOOD = 1;
    private static final long LAST_WORDS_MILLIS = 500;

    private final DriverOrder order;
    private final List<Published> calls = new ArrayList<>();
    private final MqttClientSslConfig ssl;
    private final String password;

    /** A call compiled. */
    private record Published(Template topic, Template payload, MqttQos qos, boolean comesBack) {
    }

    /** A call with its values. */
    record Message(String topic, byte[] payload, MqttQos qos, boolean comesBack) {
    }

    MqttClient(DriverOrder order) throws UnusableCall {
        this.order = order;
        password = order.secrets().fill(order.access().setting("password"));
        for (Call call : order.workload().calls()) {
            Form form = call.form(MqttProtocol.ID)
                    .orElseThrow(() -> new UnusableCall("the call " + call.name() + " is not asked in mqtt"));
            calls.add(new Published(Template.of(order.slots(), Body.Kind.TEXT, form.text("topic")),
                    Template.of(order.slots(), Body.Kind.guess(form.text("payload")), form.text("payload")),
                    MqttQos.fromCode(form.text("qos").isEmpty() ? 0 : Integer.parseInt(form.text("qos"))),
                    form.text("ends").equals("when it has come back")));
        }
        ssl = MqttClientSslConfig.builder().build();
        if (order.address().secure() && !order.access().tls().equals(Tls.USUAL)) {
            throw new UnusableCall("MQTT over TLS goes by the platform's trust alone; remove the candidate's tls");
        }
    }

    @Override
    public Message ready(int call, CallValues values) {
        Published published = calls.get(call);
        return new Message(published.topic().fill(values),
                published.payload().fill(values).getBytes(StandardCharsets.UTF_8), published.qos(),
                published.comesBack());
    }

    @Override
    public String shown(int call, CallValues values) {
        Published published = calls.get(call);
        return published.topic().shown(values) + "   (quality of service " + published.qos().getCode() + ")\n\n"
                + published.payload().shown(values);
    }

    @Override
    public UserConnection<Message> connect() throws CallFailure, InterruptedException {
        return new User();
    }

    @Override
    public String statusWord(int status) {
        return "";
    }

    @Override
    public void close() {
        // users close their connections
    }

    /** What both versions of the protocol offer. */
    private interface Broker {
        void connect() throws Exception;

        void subscribe(String topic, MqttQos qos, LinkedBlockingQueue<byte[]> heard) throws Exception;

        void publish(Message message) throws Exception;

        void disconnect() throws Exception;
    }

    private MqttClientBuilder builder() {
        MqttClientBuilder builder = com.hivemq.client.mqtt.MqttClient.builder()
                .identifier("kadrem-" + UUID.randomUUID().toString().substring(0, 12))
                .serverHost(order.address().host())
                .serverPort(order.address().port());
        return order.address().secure() ? builder.sslConfig(ssl) : builder;
    }

    private Broker broker() {
        String user = order.access().setting("user");
        byte[] secret = password.getBytes(StandardCharsets.UTF_8);
        long limit = order.timeout().toMillis();
        if (order.access().setting("version").equals("3")) {
            Mqtt3ClientBuilder made = builder().useMqttVersion3();
            Mqtt3AsyncClient client = (user.isEmpty()
                    ? made
                    : made.simpleAuth().username(user).password(secret).applySimpleAuth()).buildAsync();
            return new Broker() {
                @Override
                public void connect() throws Exception {
                    client.connect().get(limit, TimeUnit.MILLISECONDS);
                }

                @Override
                public void subscribe(String topic, MqttQos qos, LinkedBlockingQueue<byte[]> heard) throws Exception {
                    client.subscribeWith().topicFilter(topic).qos(qos)
                            .callback(message -> heard.add(message.getPayloadAsBytes())).send()
                            .get(limit, TimeUnit.MILLISECONDS);
                }

                @Override
                public void publish(Message message) throws Exception {
                    client.publishWith().topic(message.topic()).qos(message.qos()).payload(message.payload()).send()
                            .get(limit, TimeUnit.MILLISECONDS);
                }

                @Override
                public void disconnect() throws Exception {
                    client.disconnect().get(LAST_WORDS_MILLIS, TimeUnit.MILLISECONDS);
                }
            };
        }
        Mqtt5ClientBuilder made = builder().useMqttVersion5();
        Mqtt5AsyncClient client = (user.isEmpty()
                ? made
                : made.simpleAuth().username(user).password(secret).applySimpleAuth()).buildAsync();
        return new Broker() {
            @Override
            public void connect() throws Exception {
                client.connect().get(limit, TimeUnit.MILLISECONDS);
            }

            @Override
            public void subscribe(String topic, MqttQos qos, LinkedBlockingQueue<byte[]> heard) throws Exception {
                client.subscribeWith().topicFilter(topic).qos(qos)
                        .callback(message -> heard.add(message.getPayloadAsBytes())).send()
                        .get(limit, TimeUnit.MILLISECONDS);
            }

            @Override
            public void publish(Message message) throws Exception {
                client.publishWith().topic(message.topic()).qos(message.qos()).payload(message.payload()).send()
                        .get(limit, TimeUnit.MILLISECONDS).getError().ifPresent(error -> {
                            throw new IllegalStateException(error.getMessage(), error);
                        });
            }

            @Override
            public void disconnect() throws Exception {
                client.disconnect().get(LAST_WORDS_MILLIS, TimeUnit.MILLISECONDS);
            }
        };
    }

    /** One user with a connection and a queue of what has come back to it. */
    private final class User implements UserConnection<Message> {
        private final Broker broker = broker();
        private final LinkedBlockingQueue<byte[]> heard = new LinkedBlockingQueue<>();
        private final Set<String> subscribed = new HashSet<>();
        private boolean broken;

        User() throws CallFailure, InterruptedException {
            try {
                broker.connect();
            } catch (InterruptedException cause) {
                throw cause;
            } catch (Exception cause) {
                throw failure(cause, true);
            }
        }

        private CallFailure failure(Exception cause, boolean connecting) {
            Throwable inner = cause;
            boolean refused = false;
            while (inner.getCause() != null) {
                inner = inner.getCause();
                refused |= inner instanceof java.net.ConnectException;
            }
            FailureKind kind = cause instanceof java.util.concurrent.TimeoutException
                    ? FailureKind.TIMEOUT
                    : refused
                            ? FailureKind.REFUSED
                            : connecting || inner instanceof ConnectionFailedException
                                    ? FailureKind.NO_CONNECTION
                                    : inner instanceof MqttClientStateException
                                            ? FailureKind.CLOSED
                                            : FailureKind.RESET;
            return new CallFailure(kind, 0, order.secrets().mask(String.valueOf(inner.getMessage())));
        }

        @Override
        public Answer call(int call, Message message, boolean keeps, Marks marks)
                throws CallFailure, InterruptedException {
            try {
                byte[] back = new byte[0];
                if (message.comesBack() && subscribed.add(message.topic())) {
                    broker.subscribe(message.topic(), message.qos(), heard);
                }
                heard.clear();
                broker.publish(message);
                if (message.comesBack()) {
                    back = await(message);
                    marks.part();
                }
                return new Answer(GOOD, message.payload().length, back.length,
                        message.comesBack() ? "published and received" : "published",
                        back.length > 0 && back[0] == '{' ? "application/json" : "text/plain", back);
            } catch (InterruptedException | CallFailure cause) {
                broken = true;
                throw cause;
            } catch (Exception cause) {
                broken = true;
                throw failure(cause, false);
            }
        }

        /** Waits for this message; others may come on the same topic. */
        private byte[] await(Message message) throws CallFailure, InterruptedException {
            long deadline = System.nanoTime() + order.timeout().toNanos();
            while (true) {
                byte[] next = heard.poll(deadline - System.nanoTime(), TimeUnit.NANOSECONDS);
                if (next == null) {
                    throw new CallFailure(FailureKind.TIMEOUT, 0, "the message did not come back");
                }
                if (java.util.Arrays.equals(next, message.payload())) {
                    return next;
                }
            }
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
                broker.disconnect();
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
            } catch (Exception _) {
                // it is gone already
            }
        }
    }
}
