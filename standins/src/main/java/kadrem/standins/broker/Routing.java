package kadrem.standins.broker;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.atomic.AtomicLong;
import java.util.regex.Pattern;

import com.rabbitmq.client.impl.AMQContentHeader;
import org.jspecify.annotations.Nullable;

/** Exchanges, their bindings and the queues behind them, as AMQP 0-9-1 describes them; all in memory, none of it durable. */
final class Routing {
    /** A queue of which nobody takes anything keeps the latest messages. */
    private static final int MAX_KEPT = 100_000;

    /** How an exchange finds its queues. */
    enum Kind {
        DIRECT, FANOUT, TOPIC;

        static Optional<Kind> of(String name) {
            for (Kind kind : values()) {
                if (kind.name().toLowerCase(Locale.ROOT).equals(name)) {
                    return Optional.of(kind);
                }
            }
            return Optional.empty();
        }
    }

    /** A message as it was published. */
    record Message(String exchange, String key, AMQContentHeader header, byte[] body) {
    }

    /** Somebody who is given the messages of a queue. */
    interface Consumer {
        /** @return false if it has gone and the message is to go to another */
        boolean deliver(Queue queue, Message message);
    }

    private record Binding(Queue queue, String key, Pattern pattern) {
    }

    private record Exchange(Kind kind, List<Binding> bindings) {
    }

    /** Messages wait where there is no consumer; where there are some, they take turns. */
    static final class Queue {
        private final String name;
        private final Deque<Message> waiting = new ArrayDeque<>();
        private final Deque<Consumer> consumers = new ArrayDeque<>();

        /** Whether it goes with its last consumer. */
        private final boolean transitory;

        private Queue(String name, boolean transitory) {
            this.name = name;
            this.transitory = transitory;
        }

        String name() {
            return name;
        }

        synchronized int messages() {
            return waiting.size();
        }

        synchronized int consumers() {
            return consumers.size();
        }

        synchronized void add(Message message) {
            waiting.add(message);
            if (waiting.size() > MAX_KEPT) {
                waiting.remove();
            }
            deliver();
        }

        synchronized void putBack(Message message) {
            waiting.addFirst(message);
            deliver();
        }

        synchronized void consume(Consumer consumer) {
            consumers.add(consumer);
            deliver();
        }

        /** @return whether it is of no use any more */
        synchronized boolean leave(Consumer consumer) {
            consumers.remove(consumer);
            return transitory && consumers.isEmpty();
        }

        synchronized @Nullable Message take() {
            return waiting.poll();
        }

        synchronized int empty() {
            int emptied = waiting.size();
            waiting.clear();
            return emptied;
        }

        private void deliver() {
            while (!waiting.isEmpty() && !consumers.isEmpty()) {
                Consumer next = consumers.remove();
                if (next.deliver(this, waiting.element())) {
                    waiting.remove();
                    consumers.add(next);
                }
            }
        }
    }

    private final Map<String, Exchange> exchanges = new ConcurrentHashMap<>();
    private final Map<String, Queue> queues = new ConcurrentHashMap<>();
    private final AtomicLong names = new AtomicLong();

    Routing() {
        for (Kind kind : Kind.values()) {
            declareExchange("amq." + kind.name().toLowerCase(Locale.ROOT), kind);
        }
    }

    /** @return whether it is there with this kind */
    boolean declareExchange(String name, Kind kind) {
        return exchanges.computeIfAbsent(name, _ -> new Exchange(kind, new CopyOnWriteArrayList<>())).kind() == kind;
    }

    /** The exchange without a name is always there: it gives a message to the queue whose name is the key. */
    boolean hasExchange(String name) {
        return name.isEmpty() || exchanges.containsKey(name);
    }

    void deleteExchange(String name) {
        exchanges.remove(name);
    }

    /**
     * @param name empty for one that is made up
     * @param transitory whether it goes with its last consumer
     */
    Queue declareQueue(String name, boolean transitory) {
        return queues.computeIfAbsent(name.isEmpty() ? "made-up-" + names.incrementAndGet() : name,
                made -> new Queue(made, transitory));
    }

    Optional<Queue> queue(String name) {
        return Optional.ofNullable(queues.get(name));
    }

    void deleteQueue(Queue queue) {
        queues.remove(queue.name());
        exchanges.values().forEach(one -> one.bindings().removeIf(binding -> binding.queue() == queue));
    }

    /** Words are parted by dots; * stands for one word, # for any number of them (AMQP 0-9-1, topic exchanges). */
    static Pattern pattern(String key) {
        var made = new ArrayList<String>();
        for (String word : key.split("\\.", -1)) {
            made.add(switch (word) {
                case "*" -> "\\.[^.]*";
                case "#" -> "(?:\\.[^.]*)*";
                default -> "\\." + Pattern.quote(word);
            });
        }
        return Pattern.compile(String.join("", made));
    }

    void bind(Queue queue, String exchange, String key) {
        Exchange found = exchanges.get(exchange);
        if (found != null && found.bindings().stream()
                .noneMatch(one -> one.queue() == queue && one.key().equals(key))) {
            found.bindings().add(new Binding(queue, key, pattern(key)));
        }
    }

    void unbind(Queue queue, String exchange, String key) {
        Exchange found = exchanges.get(exchange);
        if (found != null) {
            found.bindings().removeIf(one -> one.queue() == queue && one.key().equals(key));
        }
    }

    /** @return whether any queue took it */
    boolean publish(Message message) {
        Set<Queue> taking = new LinkedHashSet<>();
        if (message.exchange().isEmpty()) {
            queue(message.key()).ifPresent(taking::add);
        } else {
            Exchange exchange = exchanges.get(message.exchange());
            if (exchange == null) {
                return false;
            }
            for (Binding binding : exchange.bindings()) {
                if (switch (exchange.kind()) {
                    case DIRECT -> binding.key().equals(message.key());
                    case FANOUT -> true;
                    case TOPIC -> binding.pattern().matcher("." + message.key()).matches();
                }) {
                    taking.add(binding.queue());
                }
            }
        }
        taking.forEach(queue -> queue.add(message));
        return !taking.isEmpty();
    }
}
