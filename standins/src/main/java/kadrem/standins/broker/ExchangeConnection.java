package kadrem.standins.broker;

import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.net.Socket;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

import com.rabbitmq.client.AMQP;
import com.rabbitmq.client.Method;
import com.rabbitmq.client.impl.AMQCommand;
import com.rabbitmq.client.impl.AMQContentHeader;
import com.rabbitmq.client.impl.AMQImpl;
import com.rabbitmq.client.impl.Frame;
import com.rabbitmq.client.impl.LongStringHelper;

/**
 * One client of the exchange, read on a thread of its own; one file, since the methods of a client come in one order and change one state.
 * Frames and methods are read and written by the classes of the common client of this protocol, which knows both directions.
 */
final class ExchangeConnection {
    static final String USER = "guest";
    private static final byte[] PROTOCOL = {'A', 'M', 'Q', 'P', 0, 0, 9, 1};
    private static final int MAX_FRAME = 128 * 1024;
    private static final int MAX_CHANNELS = 2047;
    /** Type, channel, size and the end of a frame. */
    private static final int FRAME_OVERHEAD = 8;

    private final Routing routing;
    private final DataInputStream in;
    private final DataOutputStream out;
    private final Map<Integer, Channel> channels = new HashMap<>();
    /** Queues that are this client's alone, and go with it. */
    private final List<Routing.Queue> exclusive = new ArrayList<>();
    private int largestFrame = MAX_FRAME;
    private boolean ending;

    ExchangeConnection(Socket socket, Routing routing) throws IOException {
        this.routing = routing;
        in = new DataInputStream(new BufferedInputStream(socket.getInputStream()));
        out = new DataOutputStream(new BufferedOutputStream(socket.getOutputStream()));
    }

    /** What the client asked is against the protocol, or not there; its channel ends with this code. */
    private static final class Refusal extends Exception {
        private static final long serialVersionUID = 1L;
        private final int code;

        Refusal(int code, String text) {
            super(text);
            this.code = code;
        }
    }

    /** A consumer of a channel. */
    private final class Subscription implements Routing.Consumer {
        private final Channel channel;
        private final String tag;
        private final boolean acknowledges;
        private final Routing.Queue queue;

        Subscription(Channel channel, String tag, boolean acknowledges, Routing.Queue queue) {
            this.channel = channel;
            this.tag = tag;
            this.acknowledges = acknowledges;
            this.queue = queue;
        }

        void leave(Routing routing) {
            if (queue.leave(this)) {
                routing.deleteQueue(queue);
            }
        }

        @Override
        public boolean deliver(Routing.Queue from, Routing.Message message) {
            try {
                synchronized (out) {
                    long number = channel.handOut(from, message, acknowledges);
                    send(channel.number, new AMQImpl.Basic.Deliver(tag, number, false, message.exchange(),
                            message.key()), message.header(), message.body());
                }
                return true;
            } catch (IOException _) {
                return false;
            }
        }
    }

    private record HandedOut(Routing.Queue queue, Routing.Message message) {
    }

    private static final class Channel {
        private final int number;
        private final Map<String, Subscription> subscriptions = new HashMap<>();
        /** Messages that the client has not yet said it has, by their delivery tags. */
        private final TreeMap<Long, HandedOut> handedOut = new TreeMap<>();
        private AMQCommand reading = new AMQCommand();
        private boolean confirms;
        private long published;
        private long delivered;
        private String lastQueue = "";

        Channel(int number) {
            this.number = number;
        }

        synchronized long handOut(Routing.Queue queue, Routing.Message message, boolean acknowledges) {
            delivered++;
            if (acknowledges) {
                handedOut.put(delivered, new HandedOut(queue, message));
            }
            return delivered;
        }

        synchronized List<HandedOut> settle(long tag, boolean multiple) {
            if (multiple) {
                Map<Long, HandedOut> all = tag == 0 ? handedOut : handedOut.headMap(tag, true);
                var settled = new ArrayList<>(all.values());
                all.clear();
                return settled;
            }
            HandedOut one = handedOut.remove(tag);
            return one == null ? List.of() : List.of(one);
        }

        void end(Routing routing) {
            subscriptions.values().forEach(one -> one.leave(routing));
            subscriptions.clear();
            settle(0, true).reversed().forEach(one -> one.queue().putBack(one.message()));
        }
    }

    /** Talks until the client has gone. */
    void talk() throws IOException {
        try {
            byte[] greeting = in.readNBytes(PROTOCOL.length);
            if (!Arrays.equals(greeting, PROTOCOL)) {
                out.write(PROTOCOL);
                out.flush();
                return;
            }
            send(0, new AMQImpl.Connection.Start(0, 9, Map.of("product", "Kadrem's exchange", "capabilities",
                    Map.of("publisher_confirms", true, "authentication_failure_close", true)),
                    LongStringHelper.asLongString("PLAIN"), LongStringHelper.asLongString("en_US")));
            while (!ending) {
                Frame frame = Frame.readFrom(in, MAX_FRAME);
                if (frame != null && frame.type != AMQP.FRAME_HEARTBEAT) {
                    take(frame);
                }
            }
        } finally {
            channels.values().forEach(one -> one.end(routing));
            exclusive.forEach(routing::deleteQueue);
        }
    }

    private void take(Frame frame) throws IOException {
        Channel channel = channels.computeIfAbsent(frame.channel, Channel::new);
        if (!channel.reading.handleFrame(frame)) {
            return;
        }
        AMQCommand whole = channel.reading;
        channel.reading = new AMQCommand();
        Method method = whole.getMethod();
        try {
            if (frame.channel == 0) {
                connection(method);
            } else {
                channel(channel, method, whole);
            }
        } catch (Refusal refusal) {
            channel.end(routing);
            send(frame.channel, new AMQImpl.Channel.Close(refusal.code, refusal.getMessage(),
                    method.protocolClassId(), method.protocolMethodId()));
        }
    }

    private void connection(Method method) throws IOException {
        switch (method) {
            case AMQP.Connection.StartOk start -> {
                String[] said = start.getResponse().toString().split("\0", -1);
                if (said.length == 3 && said[1].equals(USER) && said[2].equals(USER)) {
                    send(0, new AMQImpl.Connection.Tune(MAX_CHANNELS, MAX_FRAME, 0));
                } else {
                    send(0, new AMQImpl.Connection.Close(AMQP.ACCESS_REFUSED,
                            "ACCESS_REFUSED - the user is " + USER + ", and so is the password", 0, 0));
                }
            }
            case AMQP.Connection.TuneOk tune -> largestFrame = tune.getFrameMax() == 0
                    ? MAX_FRAME
                    : Math.min(MAX_FRAME, tune.getFrameMax());
            case AMQP.Connection.Open _ -> send(0, new AMQImpl.Connection.OpenOk(""));
            case AMQP.Connection.Close _ -> {
                send(0, new AMQImpl.Connection.CloseOk());
                ending = true;
            }
            case AMQP.Connection.CloseOk _ -> ending = true;
            default -> {
                send(0, new AMQImpl.Connection.Close(AMQP.NOT_IMPLEMENTED,
                        "NOT_IMPLEMENTED - " + method.protocolMethodName(), method.protocolClassId(),
                        method.protocolMethodId()));
            }
        }
    }

    private void channel(Channel channel, Method method, AMQCommand whole) throws IOException, Refusal {
        switch (method) {
            case AMQP.Channel.Open _ -> send(channel.number, new AMQImpl.Channel.OpenOk(
                    LongStringHelper.asLongString("")));
            case AMQP.Channel.Close _ -> {
                channel.end(routing);
                channels.remove(channel.number);
                send(channel.number, new AMQImpl.Channel.CloseOk());
            }
            case AMQP.Channel.CloseOk _ -> channels.remove(channel.number);
            case AMQP.Channel.Flow flow -> send(channel.number, new AMQImpl.Channel.FlowOk(flow.getActive()));
            case AMQP.Confirm.Select select -> {
                channel.confirms = true;
                answer(channel, select.getNowait(), new AMQImpl.Confirm.SelectOk());
            }
            case AMQP.Exchange.Declare declare -> declareExchange(channel, declare);
            case AMQP.Exchange.Delete delete -> {
                routing.deleteExchange(delete.getExchange());
                answer(channel, delete.getNowait(), new AMQImpl.Exchange.DeleteOk());
            }
            case AMQP.Queue.Declare declare -> declareQueue(channel, declare);
            case AMQP.Queue.Bind bind -> {
                requireExchange(bind.getExchange());
                routing.bind(queue(channel, bind.getQueue()), bind.getExchange(), bind.getRoutingKey());
                answer(channel, bind.getNowait(), new AMQImpl.Queue.BindOk());
            }
            case AMQP.Queue.Unbind unbind -> {
                routing.unbind(queue(channel, unbind.getQueue()), unbind.getExchange(), unbind.getRoutingKey());
                send(channel.number, new AMQImpl.Queue.UnbindOk());
            }
            case AMQP.Queue.Purge purge -> answer(channel, purge.getNowait(),
                    new AMQImpl.Queue.PurgeOk(queue(channel, purge.getQueue()).empty()));
            case AMQP.Queue.Delete delete -> {
                Routing.Queue gone = queue(channel, delete.getQueue());
                routing.deleteQueue(gone);
                answer(channel, delete.getNowait(), new AMQImpl.Queue.DeleteOk(gone.empty()));
            }
            case AMQP.Basic.Publish publish -> publish(channel, publish, whole);
            case AMQP.Basic.Qos _ -> send(channel.number, new AMQImpl.Basic.QosOk());
            case AMQP.Basic.Consume consume -> consume(channel, consume);
            case AMQP.Basic.Cancel cancel -> {
                Optional.ofNullable(channel.subscriptions.remove(cancel.getConsumerTag()))
                        .ifPresent(one -> one.leave(routing));
                answer(channel, cancel.getNowait(), new AMQImpl.Basic.CancelOk(cancel.getConsumerTag()));
            }
            case AMQP.Basic.Get get -> get(channel, get);
            case AMQP.Basic.Ack ack -> channel.settle(ack.getDeliveryTag(), ack.getMultiple());
            case AMQP.Basic.Nack nack -> giveBack(channel.settle(nack.getDeliveryTag(), nack.getMultiple()),
                    nack.getRequeue());
            case AMQP.Basic.Reject reject -> giveBack(channel.settle(reject.getDeliveryTag(), false),
                    reject.getRequeue());
            default -> throw new Refusal(AMQP.NOT_IMPLEMENTED, "NOT_IMPLEMENTED - " + method.protocolMethodName());
        }
    }

    private static void giveBack(List<HandedOut> settled, boolean again) {
        if (again) {
            settled.reversed().forEach(one -> one.queue().putBack(one.message()));
        }
    }

    private void requireExchange(String name) throws Refusal {
        if (!routing.hasExchange(name)) {
            throw new Refusal(AMQP.NOT_FOUND, "NOT_FOUND - no exchange '" + name + "'");
        }
    }

    /** @param name empty for the queue that the channel declared last */
    private Routing.Queue queue(Channel channel, String name) throws Refusal {
        String meant = name.isEmpty() ? channel.lastQueue : name;
        return routing.queue(meant)
                .orElseThrow(() -> new Refusal(AMQP.NOT_FOUND, "NOT_FOUND - no queue '" + meant + "'"));
    }

    private void declareExchange(Channel channel, AMQP.Exchange.Declare declare) throws IOException, Refusal {
        if (declare.getPassive()) {
            requireExchange(declare.getExchange());
        } else {
            Routing.Kind kind = Routing.Kind.of(declare.getType()).orElseThrow(() -> new Refusal(AMQP.COMMAND_INVALID,
                    "COMMAND_INVALID - exchanges here are direct, fanout or topic, and not " + declare.getType()));
            if (!routing.declareExchange(declare.getExchange(), kind)) {
                throw new Refusal(AMQP.PRECONDITION_FAILED, "PRECONDITION_FAILED - '" + declare.getExchange()
                        + "' is there with another type");
            }
        }
        answer(channel, declare.getNowait(), new AMQImpl.Exchange.DeclareOk());
    }

    private void declareQueue(Channel channel, AMQP.Queue.Declare declare) throws IOException, Refusal {
        Routing.Queue queue = declare.getPassive()
                ? queue(channel, declare.getQueue())
                : routing.declareQueue(declare.getQueue(), declare.getAutoDelete());
        if (declare.getExclusive()) {
            exclusive.add(queue);
        }
        channel.lastQueue = queue.name();
        answer(channel, declare.getNowait(),
                new AMQImpl.Queue.DeclareOk(queue.name(), queue.messages(), queue.consumers()));
    }

    private void publish(Channel channel, AMQP.Basic.Publish publish, AMQCommand whole) throws IOException, Refusal {
        requireExchange(publish.getExchange());
        var message = new Routing.Message(publish.getExchange(), publish.getRoutingKey(), whole.getContentHeader(),
                whole.getContentBody());
        if (!routing.publish(message) && publish.getMandatory()) {
            send(channel.number, new AMQImpl.Basic.Return(AMQP.NO_ROUTE, "NO_ROUTE", message.exchange(),
                    message.key()), message.header(), message.body());
        }
        channel.published++;
        if (channel.confirms) {
            send(channel.number, new AMQImpl.Basic.Ack(channel.published, false));
        }
    }

    private void consume(Channel channel, AMQP.Basic.Consume consume) throws IOException, Refusal {
        Routing.Queue queue = queue(channel, consume.getQueue());
        String tag = consume.getConsumerTag().isEmpty()
                ? "consumer-" + channel.number + "-" + channel.subscriptions.size()
                : consume.getConsumerTag();
        var subscription = new Subscription(channel, tag, !consume.getNoAck(), queue);
        channel.subscriptions.put(tag, subscription);
        // before the first message
        answer(channel, consume.getNowait(), new AMQImpl.Basic.ConsumeOk(tag));
        queue.consume(subscription);
    }

    private void get(Channel channel, AMQP.Basic.Get get) throws IOException, Refusal {
        Routing.Queue queue = queue(channel, get.getQueue());
        Routing.Message message = queue.take();
        if (message == null) {
            send(channel.number, new AMQImpl.Basic.GetEmpty(""));
        } else {
            long number = channel.handOut(queue, message, !get.getNoAck());
            send(channel.number, new AMQImpl.Basic.GetOk(number, false, message.exchange(), message.key(),
                    queue.messages()), message.header(), message.body());
        }
    }

    /** @param silent whether the client has said that it does not wait for the answer */
    private void answer(Channel channel, boolean silent, com.rabbitmq.client.impl.Method method) throws IOException {
        if (!silent) {
            send(channel.number, method);
        }
    }

    private void send(int channel, com.rabbitmq.client.impl.Method method) throws IOException {
        synchronized (out) {
            method.toFrame(channel).writeTo(out);
            out.flush();
        }
    }

    private void send(int channel, com.rabbitmq.client.impl.Method method, AMQContentHeader header, byte[] body)
            throws IOException {
        synchronized (out) {
            method.toFrame(channel).writeTo(out);
            header.toFrame(channel, body.length).writeTo(out);
            int part = largestFrame - FRAME_OVERHEAD;
            for (int from = 0; from < body.length; from += part) {
                Frame.fromBodyFragment(channel, body, from, Math.min(part, body.length - from)).writeTo(out);
            }
            out.flush();
        }
    }
}
