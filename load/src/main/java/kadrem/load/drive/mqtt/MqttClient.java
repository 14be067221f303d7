package kadrem.load.drive.mqtt;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
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
import kadrem.load.drive.AnswerRoom;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Failures;
import kadrem.load.drive.Template;
import kadrem.load.drive.TlsContext;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;
import kadrem.load.drive.blocking.Heard;

/**
 * The messages of a workload, for one broker, by HiveMQ's client; one file, since sending, waiting and giving up are three sides of one
 * call.
 */
final class MqttClient implements Client<MqttClient.Message> {
    private static final int GOOD = 1;
    private static final long LAST_WORDS_MILLIS = 500;

    private final DriverOrder order;
    private final List<Published> calls = new ArrayList<>();
    /** Topics that are known before the first call, from which messages come back. */
    private final Map<String, MqttQos> fixedTopics = new LinkedHashMap<>();
    private final Optional<MqttClientSslConfig> ssl;
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
            MqttQos qos = Objects.requireNonNull(
                    MqttQos.fromCode(form.text("qos").isEmpty() ? 0 : Integer.parseInt(form.text("qos"))),
                    "the study was checked");
            boolean comesBack = form.text("ends").equals("when it has come back");
            calls.add(new Published(Template.of(order.slots(), Body.Kind.TEXT, form.text("topic")),
                    Template.of(order.slots(), Body.Kind.guess(form.text("payload")), form.text("payload")), qos,
                    comesBack));
            if (comesBack && Call.split(form.text("topic")).size() == 1) {
                fixedTopics.merge(form.text("topic"), qos,
                        (one, two) -> one.getCode() > two.getCode() ? one : two);
            }
        }
        ssl = order.address().secure() ? ssl(order) : Optional.empty();
    }

    private static Optional<MqttClientSslConfig> ssl(DriverOrder order) throws UnusableCall {
        Tls tls = order.access().tls();
        Path folder = order.secrets().folder();
        return Optional.of(MqttClientSslConfig.builder()
                .trustManagerFactory(TlsContext.trusted(tls, folder).orElse(null))
                .keyManagerFactory(TlsContext.own(tls, folder).orElse(null))
                .hostnameVerifier(tls.verify() ? null : (_, _) -> true).build());
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

        void subscribe(String topic, MqttQos qos, Heard heard) throws Exception;

        void publish(Message message) throws Exception;

        void disconnect() throws Exception;
    }

    private MqttClientBuilder builder() {
        MqttClientBuilder builder = com.hivemq.client.mqtt.MqttClient.builder()
                .identifier("kadrem-" + UUID.randomUUID().toString().substring(0, 12))
                .serverHost(order.address().host())
                .serverPort(order.address().port());
        return ssl.map(builder::sslConfig).orElse(builder);
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
                public void subscribe(String topic, MqttQos qos, Heard heard) throws Exception {
                    client.subscribeWith().topicFilter(topic).qos(qos)
                            .callback(message -> heard.hear(message.getPayloadAsBytes())).send()
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
        int largest = AnswerRoom.share(order.users());
        Mqtt5AsyncClient client = (user.isEmpty()
                ? made
                : made.simpleAuth().username(user).password(secret).applySimpleAuth()).buildAsync();
        return new Broker() {
            @Override
            public void connect() throws Exception {
                client.connectWith().restrictions().maximumPacketSize(largest).applyRestrictions().send()
                        .get(limit, TimeUnit.MILLISECONDS);
            }

            @Override
            public void subscribe(String topic, MqttQos qos, Heard heard) throws Exception {
                client.subscribeWith().topicFilter(topic).qos(qos)
                        .callback(message -> heard.hear(message.getPayloadAsBytes())).send()
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
        private final Heard heard = new Heard(order.timeout());
        private final Set<String> subscribed = new HashSet<>();
        private boolean broken;

        User() throws CallFailure, InterruptedException {
            try {
                broker.connect();
                for (Map.Entry<String, MqttQos> topic : fixedTopics.entrySet()) {
                    subscribed.add(topic.getKey());
                    broker.subscribe(topic.getKey(), topic.getValue(), heard);
                }
            } catch (InterruptedException cause) {
                leave();
                throw cause;
            } catch (Exception cause) {
                leave();
                throw failure(cause, true);
            }
        }

        /** The library goes on trying to say farewell, for ten seconds at most. */
        private void leave() {
            Thread.ofVirtual().start(this::close);
        }

        private CallFailure failure(Exception cause, boolean connecting) {
            Throwable inner = cause;
            while (inner.getCause() != null) {
                inner = inner.getCause();
            }
            FailureKind kind = inner instanceof MqttClientStateException
                    ? FailureKind.CLOSED
                    : Failures.kindOf(cause, connecting || inner instanceof ConnectionFailedException);
            // what else the library reports is about its connection
            kind = kind == FailureKind.GENERATOR ? FailureKind.RESET : kind;
            String told = String.valueOf(inner.getMessage());
            // a broker of the older version refuses in words of its own, which the newer cannot read
            boolean older = connecting && !order.access().setting("version").equals("3")
                    && (told.contains("decoding CONNACK") || told.contains("UNSUPPORTED_PROTOCOL_VERSION"));
            return new CallFailure(kind, 0, order.secrets().mask(told) + (older
                    ? "; a broker that speaks only MQTT 3.1.1 needs mqtt: {version: 3}"
                    : ""));
        }

        @Override
        public Answer call(int call, Message message, boolean keeps, Marks marks)
                throws CallFailure, InterruptedException {
            try {
                byte[] back = new byte[0];
                if (message.comesBack() && subscribed.add(message.topic())) {
                    broker.subscribe(message.topic(), message.qos(), heard);
                }
                heard.expect(message.payload());
                broker.publish(message);
                if (message.comesBack()) {
                    back = heard.await();
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
