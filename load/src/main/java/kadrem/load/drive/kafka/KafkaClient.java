package kadrem.load.drive.kafka;

import java.io.IOException;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;

import kadrem.core.measure.FailureKind;
import kadrem.core.study.Address;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Failures;
import kadrem.load.drive.Template;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;
import org.apache.kafka.clients.producer.KafkaProducer;
import org.apache.kafka.clients.producer.ProducerConfig;
import org.apache.kafka.clients.producer.ProducerRecord;
import org.apache.kafka.common.KafkaException;
import org.apache.kafka.common.Node;
import org.apache.kafka.common.PartitionInfo;
import org.apache.kafka.common.errors.ApiException;
import org.apache.kafka.common.errors.AuthenticationException;
import org.apache.kafka.common.errors.DisconnectException;
import org.apache.kafka.common.errors.InterruptException;
import org.apache.kafka.common.errors.NetworkException;
import org.apache.kafka.common.errors.SslAuthenticationException;
import org.apache.kafka.common.protocol.Errors;
import org.apache.kafka.common.serialization.ByteArraySerializer;
import org.jspecify.annotations.Nullable;

/**
 * The records of a workload, for one cluster, by Kafka's own client; one file, since sending, reading and giving up are three sides of one
 * call. Until a call's time is over that client tries by itself again, as it does in services. Status codes are the protocol's error
 * codes, moved up by one thousand so that 0 is no "no answer".
 */
final class KafkaClient implements Client<KafkaClient.Message> {
    private static final int OFFSET = 1000;
    private static final int GOOD = OFFSET + Errors.NONE.code();

    private final DriverOrder order;
    private final Map<String, Object> settings;
    private final List<Published> calls = new ArrayList<>();
    private final boolean sharesProducer;
    /** Topics that are known before the first call, and whether records come back from them. */
    private final Map<String, Boolean> fixedTopics = new HashMap<>();
    /** Topics whose brokers were found to be where the address is. */
    private final Set<String> nearTopics = ConcurrentHashMap.newKeySet();
    private @Nullable KafkaProducer<byte[], byte[]> shared;
    private @Nullable Returned returned;

    /** A call compiled. */
    private record Published(Template topic, Template key, Template payload, boolean comesBack) {
    }

    /** A call with its values. */
    record Message(String topic, String key, byte[] payload, boolean comesBack) {
    }

    KafkaClient(DriverOrder order) throws UnusableCall {
        this.order = order;
        settings = producerSettings(order);
        sharesProducer = !order.access().setting("producers").equals(KafkaProtocol.OWN_PRODUCERS);
        for (Call call : order.workload().calls()) {
            Form form = call.form(KafkaProtocol.ID)
                    .orElseThrow(() -> new UnusableCall("the call " + call.name() + " is not asked in kafka"));
            boolean comesBack = form.text("ends").equals("when it has come back");
            String topic = form.text("topic").strip();
            if (Call.split(topic).size() == 1) {
                fixedTopics.merge(topic, comesBack, Boolean::logicalOr);
            }
            calls.add(new Published(Template.of(order.slots(), Body.Kind.TEXT, topic),
                    Template.of(order.slots(), Body.Kind.TEXT, form.text("key").strip()),
                    Template.of(order.slots(), Body.Kind.guess(form.text("payload")), form.text("payload")),
                    comesBack));
        }
    }

    private static Map<String, Object> producerSettings(DriverOrder order) throws UnusableCall {
        Map<String, Object> settings = Cluster.settings(order);
        int limit = Cluster.limitMillis(order);
        String linger = order.access().setting("linger");
        int wait = linger.isBlank() ? 0 : Integer.parseInt(linger);
        settings.put(ProducerConfig.LINGER_MS_CONFIG, wait);
        settings.put(ProducerConfig.MAX_BLOCK_MS_CONFIG, limit);
        settings.put(ProducerConfig.DELIVERY_TIMEOUT_MS_CONFIG, limit + wait);
        settings.put(ProducerConfig.ACKS_CONFIG, usual(order.access().setting("acks"), "all"));
        settings.put(ProducerConfig.COMPRESSION_TYPE_CONFIG, usual(order.access().setting("compression"), "none"));
        return settings;
    }

    private static String usual(String said, String usual) {
        return said.isEmpty() ? usual : said;
    }

    @Override
    public Message ready(int call, CallValues values) {
        Published published = calls.get(call);
        return new Message(published.topic().fill(values), published.key().fill(values),
                published.payload().fill(values).getBytes(StandardCharsets.UTF_8), published.comesBack());
    }

    @Override
    public String shown(int call, CallValues values) {
        Published published = calls.get(call);
        String key = published.key().shown(values);
        return published.topic().shown(values) + (key.isEmpty() ? "" : "   key " + key) + "\n\n"
                + published.payload().shown(values);
    }

    @Override
    public UserConnection<Message> connect() throws CallFailure, InterruptedException {
        KafkaProducer<byte[], byte[]> producer = shared();
        return sharesProducer ? new User(producer, false) : new User(opened(), true);
    }

    /** The producer of all users; where each has its own, the one that found the cluster in order. */
    private synchronized KafkaProducer<byte[], byte[]> shared() throws CallFailure, InterruptedException {
        KafkaProducer<byte[], byte[]> open = shared;
        if (open == null) {
            // the client itself would try for the whole of its time
            try {
                Greeting.expect(order);
            } catch (IOException cause) {
                throw new CallFailure(Failures.kindOf(cause, true), 0, String.valueOf(cause.getMessage()));
            }
            open = opened();
            shared = open;
            for (Map.Entry<String, Boolean> topic : fixedTopics.entrySet()) {
                if (topic.getValue()) {
                    listenTo(topic.getKey());
                }
            }
        }
        return open;
    }

    /**
     * A cluster tells its clients which brokers have a topic, and they go there. Records must not follow to a host for which nobody
     * gave a word.
     */
    private void refuseToBeLedElsewhere(KafkaProducer<byte[], byte[]> producer, String topic) throws CallFailure {
        if (nearTopics.contains(topic)) {
            return;
        }
        for (PartitionInfo partition : producer.partitionsFor(topic)) {
            Node leader = partition.leader();
            if (leader != null && !isSamePlace(order.address(), leader.host())) {
                throw new CallFailure(FailureKind.REDIRECTS, 0, "the broker sends its clients on to " + leader.host()
                        + ":" + leader.port() + ", which is not the host of the address; have it advertise "
                        + order.address().host() + ", or give that host in the address");
            }
        }
        nearTopics.add(topic);
    }

    private static boolean isSamePlace(Address address, String host) {
        if (host.equalsIgnoreCase(address.host())) {
            return true;
        }
        try {
            InetAddress there = InetAddress.getByName(host);
            InetAddress here = InetAddress.getByName(address.host());
            return there.equals(here) || there.isLoopbackAddress() && here.isLoopbackAddress();
        } catch (UnknownHostException _) {
            return false;
        }
    }

    /** A producer that knows where the topics are. */
    private KafkaProducer<byte[], byte[]> opened() throws CallFailure {
        KafkaProducer<byte[], byte[]> producer = new KafkaProducer<>(settings, new ByteArraySerializer(),
                new ByteArraySerializer());
        try {
            for (String topic : fixedTopics.keySet()) {
                refuseToBeLedElsewhere(producer, topic);
            }
            return producer;
        } catch (CallFailure elsewhere) {
            producer.close(Duration.ZERO);
            throw elsewhere;
        } catch (KafkaException cause) {
            producer.close(Duration.ZERO);
            throw failure(cause);
        }
    }

    /** What hears the topic; waits only until it hears that topic for the first time. */
    private Returned listenTo(String topic) throws CallFailure, InterruptedException {
        Returned open;
        synchronized (this) {
            open = returned;
            if (open == null) {
                try {
                    open = new Returned(Cluster.settings(order), order.timeout());
                } catch (UnusableCall cause) {
                    throw new CallFailure(FailureKind.NO_CONNECTION, 0, String.valueOf(cause.getMessage()));
                }
                returned = open;
            }
        }
        got(open.listenTo(topic), "the topic is not told");
        return open;
    }

    private <T> T got(CompletableFuture<T> future, String orElse) throws CallFailure, InterruptedException {
        try {
            return future.get(order.timeout().toNanos(), TimeUnit.NANOSECONDS);
        } catch (TimeoutException _) {
            throw new CallFailure(FailureKind.TIMEOUT, 0, orElse);
        } catch (ExecutionException cause) {
            throw failure(cause.getCause() == null ? cause : cause.getCause());
        }
    }

    private CallFailure failure(Throwable cause) {
        String detail = order.secrets().mask(String.valueOf(cause.getMessage()));
        if (cause instanceof SslAuthenticationException) {
            return new CallFailure(FailureKind.TLS, 0, detail);
        }
        if (cause instanceof AuthenticationException) {
            return new CallFailure(FailureKind.NO_CONNECTION, 0, detail);
        }
        if (cause instanceof DisconnectException || cause instanceof NetworkException) {
            return new CallFailure(FailureKind.RESET, 0, detail);
        }
        if (cause instanceof TimeoutException || cause instanceof org.apache.kafka.common.errors.TimeoutException) {
            // it is told by its cause why a topic was waited for in vain
            return cause.getCause() instanceof ApiException why
                    && !(why instanceof org.apache.kafka.common.errors.TimeoutException)
                            ? failure(why)
                            : new CallFailure(FailureKind.TIMEOUT, 0, detail);
        }
        Errors error = Errors.forException(cause);
        return error == Errors.UNKNOWN_SERVER_ERROR && !(cause instanceof ApiException)
                ? new CallFailure(FailureKind.MALFORMED, 0, detail)
                : new CallFailure(FailureKind.UNEXPECTED_STATUS, OFFSET + error.code(), error.name() + ": " + detail);
    }

    @Override
    public String statusWord(int status) {
        return status == GOOD || status < OFFSET - 1 ? "" : Errors.forCode((short) (status - OFFSET)).name();
    }

    @Override
    public synchronized void close() {
        KafkaProducer<byte[], byte[]> producer = shared;
        if (producer != null) {
            producer.close(Duration.ZERO);
        }
        Returned hears = returned;
        if (hears != null) {
            hears.close();
        }
    }

    /** One user, which has one record under way at a time. */
    private final class User implements UserConnection<Message> {
        private final KafkaProducer<byte[], byte[]> producer;
        private final boolean owns;
        private volatile CompletableFuture<byte[]> underWay = new CompletableFuture<>();

        User(KafkaProducer<byte[], byte[]> producer, boolean owns) {
            this.producer = producer;
            this.owns = owns;
        }

        @Override
        public Answer call(int call, Message message, boolean keeps, Marks marks)
                throws CallFailure, InterruptedException {
            var record = new ProducerRecord<>(message.topic(), message.key().isEmpty()
                    ? null
                    : message.key().getBytes(StandardCharsets.UTF_8), message.payload());
            try {
                refuseToBeLedElsewhere(producer, message.topic());
                return message.comesBack() ? roundTrip(record, marks) : confirmed(record);
            } catch (InterruptException _) {
                throw new InterruptedException();
            } catch (KafkaException cause) {
                throw failure(cause);
            }
        }

        private Answer confirmed(ProducerRecord<byte[], byte[]> record) throws CallFailure, InterruptedException {
            CompletableFuture<byte[]> told = new CompletableFuture<>();
            send(record, told, true);
            got(told, "the record is not confirmed");
            return new Answer(GOOD, record.value().length, 0, "confirmed", "text/plain", new byte[0]);
        }

        private Answer roundTrip(ProducerRecord<byte[], byte[]> record, Marks marks)
                throws CallFailure, InterruptedException {
            Returned open = listenTo(record.topic());
            Returned.Awaited awaited = open.await();
            try {
                record.headers().add(Returned.HEADER, awaited.header());
                send(record, awaited.record(), false);
                byte[] back = got(awaited.record(), "the record did not come back");
                marks.part();
                return new Answer(GOOD, record.value().length, back.length, "written and received",
                        back.length > 0 && back[0] == '{' ? "application/json" : "text/plain", back);
            } finally {
                open.forget(awaited);
            }
        }

        private void send(ProducerRecord<byte[], byte[]> record, CompletableFuture<byte[]> told,
                boolean endsConfirmed) {
            underWay = told;
            producer.send(record, (_, failure) -> {
                if (failure != null) {
                    told.completeExceptionally(failure);
                } else if (endsConfirmed) {
                    told.complete(new byte[0]);
                }
            });
        }

        @Override
        public void cancel() {
            underWay.completeExceptionally(new DisconnectException("given up"));
        }

        @Override
        public boolean isUsable() {
            return true;
        }

        @Override
        public void close() {
            if (owns) {
                producer.close(Duration.ZERO);
            }
        }
    }
}
