package kadrem.load.drive.amqp;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.TimeoutException;

import com.rabbitmq.client.AMQP;
import com.rabbitmq.client.AuthenticationFailureException;
import com.rabbitmq.client.Channel;
import com.rabbitmq.client.Connection;
import com.rabbitmq.client.ConnectionFactory;
import com.rabbitmq.client.MessageProperties;
import com.rabbitmq.client.ShutdownSignalException;
import kadrem.core.measure.FailureKind;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.Tls;
import kadrem.core.study.Wire;
import kadrem.load.drive.AnswerRoom;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Failures;
import kadrem.load.drive.Template;
import kadrem.load.drive.TlsContext;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.blocking.CallFailure;
import kadrem.load.drive.blocking.Client;
import kadrem.load.drive.blocking.Heard;

/** The messages of a workload, for one broker, by RabbitMQ's client. */
final class AmqpClient implements Client<AmqpClient.Message> {
    private static final int GOOD = 1;
    private static final int LAST_WORDS_MILLIS = 500;
    /** Bytes of a frame, as brokers usually agree to; longer messages take several (common practice, no source). */
    private static final int MAX_FRAME = 128 << 10;

    private final DriverOrder order;
    private final ConnectionFactory factory;
    private final List<Published> calls = new ArrayList<>();
    /** What comes back by an exchange and a key that are known before the first call. */
    private final List<Message> fixed = new ArrayList<>();

    /** A call compiled. */
    private record Published(Template exchange, Template key, Template payload, boolean persistent, boolean comesBack) {
    }

    /** A call with its values. */
    record Message(String exchange, String key, byte[] payload, boolean persistent, boolean comesBack) {
    }

    AmqpClient(DriverOrder order) throws UnusableCall {
        this.order = order;
        factory = factory(order);
        for (Call call : order.workload().calls()) {
            Form form = call.form(AmqpProtocol.ID)
                    .orElseThrow(() -> new UnusableCall("the call " + call.name() + " is not asked in amqp"));
            boolean persistent = form.text("persistent").equals("true");
            boolean comesBack = form.text("ends").equals("when it has come back");
            String exchange = form.text("exchange").strip();
            String key = form.text("key").strip();
            calls.add(new Published(template(order, exchange), template(order, key),
                    Template.of(order.slots(), Body.Kind.guess(form.text("payload")), form.text("payload")),
                    persistent, comesBack));
            if (comesBack && Call.split(exchange).size() == 1 && Call.split(key).size() == 1) {
                fixed.add(new Message(exchange, key, new byte[0], persistent, true));
            }
        }
    }

    private static Template template(DriverOrder order, String text) throws UnusableCall {
        return Template.of(order.slots(), Body.Kind.TEXT, text);
    }

    private static ConnectionFactory factory(DriverOrder order) throws UnusableCall {
        var factory = new ConnectionFactory();
        factory.setHost(order.address().host());
        factory.setPort(order.address().port());
        factory.setAutomaticRecoveryEnabled(false);
        int limit = Math.toIntExact(order.timeout().toMillis());
        factory.setConnectionTimeout(limit);
        factory.setHandshakeTimeout(limit);
        factory.setChannelRpcTimeout(limit);
        factory.setMaxInboundMessageBodySize(AnswerRoom.share(order.users()));
        factory.setRequestedFrameMax(MAX_FRAME);
        if (!order.address().basePath().isEmpty()) {
            factory.setVirtualHost(order.address().basePath().substring(1));
        }
        if (!order.access().setting("user").isEmpty()) {
            factory.setUsername(order.access().setting("user"));
            factory.setPassword(order.secrets().fill(order.access().setting("password")));
        }
        if (order.address().secure()) {
            Tls tls = order.access().tls();
            factory.useSslProtocol(TlsContext.of(tls, Wire.USUAL, order.secrets().folder()).shared().context());
            if (tls.verify()) {
                factory.enableHostnameVerification();
            }
        }
        return factory;
    }

    /** What a broker tells of itself when it is connected to. */
    static Map<String, Object> about(DriverOrder order) throws IOException, UnusableCall {
        try (Connection connection = factory(order).newConnection("kadrem")) {
            return connection.getServerProperties();
        } catch (TimeoutException cause) {
            throw new IOException(cause);
        }
    }

    @Override
    public Message ready(int call, CallValues values) {
        Published published = calls.get(call);
        return new Message(published.exchange().fill(values), published.key().fill(values),
                published.payload().fill(values).getBytes(StandardCharsets.UTF_8), published.persistent(),
                published.comesBack());
    }

    @Override
    public String shown(int call, CallValues values) {
        Published published = calls.get(call);
        return published.exchange().shown(values) + "  " + published.key().shown(values) + "\n\n"
                + published.payload().shown(values);
    }

    @Override
    public UserConnection<Message> connect() throws CallFailure {
        try {
            return new User();
        } catch (IOException | TimeoutException cause) {
            throw failure(cause, true);
        }
    }

    private CallFailure failure(Exception cause, boolean connecting) {
        String detail = order.secrets().mask(String.valueOf(cause.getMessage()));
        if (cause instanceof AuthenticationFailureException) {
            return new CallFailure(FailureKind.NO_CONNECTION, 0, detail);
        }
        if (cause.getCause() instanceof ShutdownSignalException ended
                && ended.getReason() instanceof AMQP.Channel.Close close) {
            return new CallFailure(FailureKind.UNEXPECTED_STATUS, close.getReplyCode(),
                    close.getReplyCode() + " " + close.getReplyText());
        }
        FailureKind kind = Failures.kindOf(cause, connecting);
        return new CallFailure(kind == FailureKind.GENERATOR ? FailureKind.RESET : kind, 0, detail);
    }

    /** Reply codes are those of the protocol, as 404 for an exchange that is not there. */
    @Override
    public String statusWord(int status) {
        return status == GOOD ? "" : Integer.toString(status);
    }

    @Override
    public void close() {
        // users close their connections
    }

    /** One user with a connection, a channel, and a queue of its own for what comes back. */
    private final class User implements UserConnection<Message> {
        private final Connection connection;
        private final Channel channel;
        private final Heard heard = new Heard(order.timeout());
        private final Set<String> bound = new HashSet<>();
        private String queue = "";
        private boolean broken;

        User() throws IOException, TimeoutException {
            connection = factory.newConnection("kadrem");
            try {
                channel = connection.createChannel();
                channel.confirmSelect();
                for (Message fixed : fixed) {
                    bound.add(fixed.exchange() + "\n" + fixed.key());
                    listen(fixed);
                }
            } catch (IOException | RuntimeException cause) {
                close();
                throw cause;
            }
        }

        @Override
        public Answer call(int call, Message message, boolean keeps, Marks marks)
                throws CallFailure, InterruptedException {
            try {
                if (message.comesBack() && bound.add(message.exchange() + "\n" + message.key())) {
                    listen(message);
                }
                heard.expect(message.payload());
                channel.basicPublish(message.exchange(), message.key(), message.persistent()
                        ? MessageProperties.PERSISTENT_BASIC
                        : MessageProperties.BASIC, message.payload());
                byte[] back = message.comesBack() ? heard.await() : new byte[0];
                if (message.comesBack()) {
                    marks.part();
                } else if (!channel.waitForConfirms(order.timeout().toMillis())) {
                    throw new CallFailure(FailureKind.UNEXPECTED_STATUS, GOOD, "the broker did not take the message");
                }
                return new Answer(GOOD, message.payload().length, back.length,
                        message.comesBack() ? "published and received" : "confirmed",
                        back.length > 0 && back[0] == '{' ? "application/json" : "text/plain", back);
            } catch (IOException | TimeoutException cause) {
                broken = true;
                throw failure(cause, false);
            } catch (ShutdownSignalException cause) {
                broken = true;
                throw failure(new IOException(cause.getMessage(), cause), false);
            } catch (CallFailure | InterruptedException cause) {
                broken = true;
                throw cause;
            }
        }

        private void listen(Message message) throws IOException {
            if (queue.isEmpty()) {
                queue = channel.queueDeclare().getQueue();
                channel.basicConsume(queue, true, (_, delivery) -> heard.hear(delivery.getBody()), _ -> {
                });
            }
            channel.queueBind(queue, message.exchange(), message.key());
        }

        @Override
        public void cancel() {
            close();
        }

        @Override
        public boolean isUsable() {
            return !broken && channel.isOpen();
        }

        @Override
        public void close() {
            // a broker that does not say farewell is not waited for
            connection.abort(LAST_WORDS_MILLIS);
        }
    }
}
