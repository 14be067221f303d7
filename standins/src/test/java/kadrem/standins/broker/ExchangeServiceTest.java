package kadrem.standins.broker;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;

import com.rabbitmq.client.AMQP;
import com.rabbitmq.client.AuthenticationFailureException;
import com.rabbitmq.client.Channel;
import com.rabbitmq.client.Connection;
import com.rabbitmq.client.ConnectionFactory;
import com.rabbitmq.client.GetResponse;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The exchange against the common client of its protocol. Source of what is to happen: AMQP 0-9-1, sections
 * named from memory. */
class ExchangeServiceTest {
    private static final int SECONDS = 20;
    private ExchangeService service;
    private Connection connection;
    private Channel channel;

    @BeforeEach
    void start() throws Exception {
        service = ExchangeService.on(0);
        connection = factory().newConnection();
        channel = connection.createChannel();
    }

    private ConnectionFactory factory() {
        var factory = new ConnectionFactory();
        factory.setHost("127.0.0.1");
        factory.setPort(service.port());
        factory.setAutomaticRecoveryEnabled(false);
        return factory;
    }

    @AfterEach
    void stop() throws Exception {
        connection.abort();
        service.close();
    }

    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }

    /** Section 3.1.3: keys of a topic exchange are words, * stands for one and # for none or more of them. */
    @ParameterizedTest
    @CsvSource({"arrivals.*, arrivals.north, true", "arrivals.*, arrivals, false",
            "arrivals.*, arrivals.north.7, false",
            "arrivals.#, arrivals, true", "arrivals.#, arrivals.north.7, true", "*.north, arrivals.north, true",
            "#, anything.at.all, true", "arrivals.north, arrivalsXnorth, false"})
    void topicsAreMatchedByWords(String pattern, String key, boolean taken) throws Exception {
        String queue = channel.queueDeclare().getQueue();
        channel.queueBind(queue, "amq.topic", pattern);
        channel.confirmSelect();
        channel.basicPublish("amq.topic", key, null, bytes("Tern"));
        assertThat(channel.waitForConfirms(SECONDS * 1000L)).isTrue();
        assertThat(channel.basicGet(queue, true) != null).isEqualTo(taken);
    }

    @Test
    void aDirectExchangeGoesByTheKeyAFanoutToAllAndTheNamelessByTheQueuesName() throws Exception {
        String one = channel.queueDeclare().getQueue();
        String two = channel.queueDeclare().getQueue();
        channel.exchangeDeclare("all", "fanout");
        for (String queue : new String[]{one, two}) {
            channel.queueBind(queue, "all", "");
        }
        channel.queueBind(one, "amq.direct", "north");
        channel.basicPublish("all", "x", null, bytes("a"));
        channel.basicPublish("amq.direct", "north", null, bytes("b"));
        channel.basicPublish("", two, null, bytes("c"));
        assertThat(channel.messageCount(one)).isEqualTo(2);
        assertThat(channel.messageCount(two)).isEqualTo(2);
        assertThat(channel.basicGet(two, true).getBody()).isEqualTo(bytes("a"));
        assertThat(channel.queuePurge(two).getMessageCount()).isEqualTo(1);
        channel.queueUnbind(one, "all", "");
        channel.basicPublish("all", "x", null, bytes("d"));
        assertThat(channel.messageCount(one)).isEqualTo(2);
    }

    @Test
    void aLargeMessageComesWholeWithItsProperties() throws Exception {
        var body = new byte[1_000_000];
        new java.util.Random(3).nextBytes(body);
        var got = new LinkedBlockingQueue<byte[]>();
        String queue = channel.queueDeclare().getQueue();
        channel.basicConsume(queue, true, (_, delivery) -> {
            if (delivery.getProperties().getContentType().equals("image/png")) {
                got.add(delivery.getBody());
            }
        }, _ -> {
        });
        channel.basicPublish("", queue, new AMQP.BasicProperties.Builder().contentType("image/png").build(), body);
        assertThat(got.poll(SECONDS, TimeUnit.SECONDS)).isEqualTo(body);
    }

    /** Section 1.8.3: a message that is not acknowledged goes back to its queue when its channel ends. */
    @Test
    void whatIsNotAcknowledgedIsGivenToAnother() throws Exception {
        String queue = channel.queueDeclare().getQueue();
        channel.basicPublish("", queue, null, bytes("kept"));
        channel.basicPublish("", queue, null, bytes("done"));
        Channel other = connection.createChannel();
        GetResponse first = other.basicGet(queue, false);
        GetResponse second = other.basicGet(queue, false);
        other.basicAck(second.getEnvelope().getDeliveryTag(), false);
        assertThat(first.getBody()).isEqualTo(bytes("kept"));
        other.close();
        assertThat(channel.messageCount(queue)).isEqualTo(1);
        assertThat(channel.basicGet(queue, true).getBody()).isEqualTo(bytes("kept"));
    }

    /** Section 1.7.2.1: an exclusive queue is deleted with its connection, one with auto-delete when its last consumer has gone. */
    @Test
    void queuesGoWithThoseForWhomTheyWere() throws Exception {
        String kept;
        String own;
        String heard;
        try (Connection other = factory().newConnection()) {
            Channel theirs = other.createChannel();
            kept = theirs.queueDeclare("kept", false, false, false, null).getQueue();
            own = theirs.queueDeclare("own", false, true, false, null).getQueue();
            heard = theirs.queueDeclare("heard", false, false, true, null).getQueue();
            String tag = theirs.basicConsume(heard, true, (_, _) -> {
            }, _ -> {
            });
            assertThat(theirs.queueDeclarePassive(heard).getConsumerCount()).isEqualTo(1);
            theirs.basicCancel(tag);
            assertThatThrownBy(() -> channel.queueDeclarePassive(heard)).rootCause().hasMessageContaining("404");
        }
        channel = connection.createChannel();
        assertThat(channel.queueDeclarePassive(kept).getQueue()).isEqualTo("kept");
        awaitGone(own);
    }

    /** The service learns of a connection's end a little after its client. */
    private void awaitGone(String queue) throws Exception {
        long until = System.nanoTime() + TimeUnit.SECONDS.toNanos(SECONDS);
        boolean there = true;
        while (there && System.nanoTime() < until) {
            try {
                channel.queueDeclarePassive(queue);
            } catch (java.io.IOException _) {
                there = false;
            }
        }
        assertThat(there).isFalse();
    }

    @Test
    void consumersTakeTurns() throws Exception {
        String queue = channel.queueDeclare().getQueue();
        var one = new LinkedBlockingQueue<byte[]>();
        var two = new LinkedBlockingQueue<byte[]>();
        channel.basicConsume(queue, true, (_, delivery) -> one.add(delivery.getBody()), _ -> {
        });
        channel.basicConsume(queue, true, (_, delivery) -> two.add(delivery.getBody()), _ -> {
        });
        for (int i = 0; i < 4; i++) {
            channel.basicPublish("", queue, null, bytes("m" + i));
        }
        for (LinkedBlockingQueue<byte[]> each : java.util.List.of(one, two)) {
            assertThat(each.poll(SECONDS, TimeUnit.SECONDS)).isNotNull();
            assertThat(each.poll(SECONDS, TimeUnit.SECONDS)).isNotNull();
        }
    }

    /** Section 1.2 and the reply codes: 404 not-found and 406 precondition-failed end the channel, 403 the connection. */
    @Test
    void whatIsNotThereOrAgainstTheProtocolEndsTheChannelAndNotTheConnection() throws Exception {
        assertThatThrownBy(() -> channel.queueDeclarePassive("nowhere")).rootCause().hasMessageContaining("404");
        channel = connection.createChannel();
        channel.exchangeDeclare("board", "direct");
        assertThatThrownBy(() -> channel.exchangeDeclare("board", "fanout")).rootCause().hasMessageContaining("406");
        channel = connection.createChannel();
        assertThatThrownBy(() -> channel.txSelect()).rootCause().hasMessageContaining("540");
        assertThat(connection.isOpen()).isTrue();
        ConnectionFactory stranger = factory();
        stranger.setPassword("wrong");
        assertThatThrownBy(stranger::newConnection).isInstanceOf(AuthenticationFailureException.class);
    }

    /** Section 4.2.2: to a client of another protocol the server answers with its own header. */
    @Test
    void anotherProtocolIsAnsweredByItsOwnHeader() throws Exception {
        try (var socket = new java.net.Socket("127.0.0.1", service.port())) {
            socket.getOutputStream().write(bytes("GET / HT"));
            assertThat(socket.getInputStream().readAllBytes()).isEqualTo(new byte[]{'A', 'M', 'Q', 'P', 0, 0, 9, 1});
        }
    }
}
