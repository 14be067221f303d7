package kadrem.load.drive.grpc;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import com.google.protobuf.Descriptors.Descriptor;
import com.google.protobuf.DynamicMessage;
import com.google.protobuf.InvalidProtocolBufferException;
import com.google.protobuf.TypeRegistry;
import com.google.protobuf.util.JsonFormat;
import io.grpc.Metadata;
import io.grpc.MethodDescriptor;
import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Template;
import kadrem.load.content.UnusableCall;
import kadrem.load.drive.http.Credentials;
import org.jspecify.annotations.Nullable;

/**
 * One call compiled: its method, its messages, and what is expected of its status. Messages that no value varies are turned into
 * bytes once.
 */
final class GrpcCall {
    private static final Pattern DURATION = Pattern.compile("(\\d{1,9})(ms|s|us)");

    private final String name;
    private final MethodDescriptor<byte[], byte[]> method;
    private final Descriptor input;
    private final Descriptor output;
    private final List<Template> messages = new ArrayList<>();
    /** The bytes of each message that never varies. */
    private final List<Optional<byte[]>> constant = new ArrayList<>();
    private final List<NamedValue> metadata = new ArrayList<>();
    private final boolean onAnswer;
    private final Set<String> good;
    private final long deadlineNanos;
    private final JsonFormat.Parser parser;
    private final JsonFormat.Printer printer;

    private record NamedValue(Metadata.Key<String> key, Template value, Optional<Supplier<byte[]>> credential) {
    }

    private GrpcCall(Call call, Form form, com.google.protobuf.Descriptors.MethodDescriptor described,
            TypeRegistry types) {
        name = call.name();
        input = described.getInputType();
        output = described.getOutputType();
        method = MethodDescriptor.<byte[], byte[]>newBuilder().setType(type(described))
                .setFullMethodName(MethodDescriptor.generateFullMethodName(described.getService().getFullName(),
                        described.getName()))
                .setRequestMarshaller(BytesMarshaller.INSTANCE).setResponseMarshaller(BytesMarshaller.INSTANCE).build();
        onAnswer = form.text("pace").equals("after each answer");
        good = Set.copyOf(GrpcProtocol.codes(form));
        deadlineNanos = deadline(form).orElse(0L);
        parser = JsonFormat.parser().usingTypeRegistry(types);
        printer = JsonFormat.printer().usingTypeRegistry(types).includingDefaultValueFields()
                .omittingInsignificantWhitespace();
    }

    static Optional<Long> deadline(Form form) {
        Matcher matcher = DURATION.matcher(form.text("deadline").strip());
        if (!matcher.matches()) {
            return Optional.empty();
        }
        long number = Long.parseLong(matcher.group(1));
        return Optional.of(switch (matcher.group(2)) {
            case "s" -> number * 1_000_000_000;
            case "ms" -> number * 1_000_000;
            default -> number * 1000;
        });
    }

    private static MethodDescriptor.MethodType type(com.google.protobuf.Descriptors.MethodDescriptor described) {
        if (described.isClientStreaming()) {
            return described.isServerStreaming()
                    ? MethodDescriptor.MethodType.BIDI_STREAMING
                    : MethodDescriptor.MethodType.CLIENT_STREAMING;
        }
        return described.isServerStreaming()
                ? MethodDescriptor.MethodType.SERVER_STREAMING
                : MethodDescriptor.MethodType.UNARY;
    }

    /** @throws UnusableCall if there is no such method, or a message is none of its */
    static GrpcCall of(Call call, Form form, Descriptions descriptions, DriverOrder order, Credentials credentials)
            throws UnusableCall {
        var compiled = new GrpcCall(call, form, descriptions.method(form.text("method").strip()),
                descriptions.types());
        List<String> texts = form.texts("messages").isEmpty()
                ? List.of(form.text("message").isBlank() ? "{}" : form.text("message"))
                : form.texts("messages");
        if (texts.size() > 1 && compiled.method.getType().clientSendsOneMessage()) {
            throw new UnusableCall("the call " + call.name() + " sends " + texts.size() + " messages, but "
                    + compiled.method.getFullMethodName() + " takes one");
        }
        for (String text : texts) {
            compiled.messages.add(Template.of(order.slots(), Body.Kind.JSON, text));
            compiled.constant.add(Call.placeholders(text).isEmpty()
                    ? Optional.of(compiled.bytes(text))
                    : Optional.empty());
        }
        for (Call.Header header : call.headers()) {
            compiled.metadata.add(new NamedValue(key(header.name()),
                    Template.of(order.slots(), Body.Kind.TEXT, header.value()), Optional.empty()));
        }
        credentials.value().ifPresent(value -> compiled.metadata
                .add(new NamedValue(key(credentials.header()), Template.NONE, Optional.of(value))));
        return compiled;
    }

    private static Metadata.Key<String> key(String header) {
        return Metadata.Key.of(header, Metadata.ASCII_STRING_MARSHALLER);
    }

    private byte[] bytes(String json) throws UnusableCall {
        try {
            DynamicMessage.Builder message = DynamicMessage.newBuilder(input);
            parser.merge(json, message);
            return message.build().toByteArray();
        } catch (InvalidProtocolBufferException cause) {
            throw new UnusableCall("the message of " + name + " is none of " + input.getFullName() + ": "
                    + cause.getMessage());
        }
    }

    /** The bytes of message {@code number}, with values filled in. */
    byte[] message(int number, CallValues values) throws UnusableCall {
        Optional<byte[]> once = constant.get(number);
        return once.isPresent() ? once.get() : bytes(messages.get(number).fill(values));
    }

    int messages() {
        return messages.size();
    }

    /** Whether a message goes out when the one before it was answered. */
    boolean onAnswer() {
        return onAnswer;
    }

    MethodDescriptor<byte[], byte[]> method() {
        return method;
    }

    boolean isGood(String code) {
        return good.contains(code);
    }

    /** What is expected of the status, in words. */
    String expected() {
        return String.join(" or ", good.stream().sorted().toList());
    }

    /** 0 where the call has none. */
    long deadlineNanos() {
        return deadlineNanos;
    }

    /** A new set each time, since the channel adds to it. */
    Metadata metadata(CallValues values) {
        var made = new Metadata();
        for (NamedValue one : metadata) {
            made.put(one.key(), one.credential().isPresent()
                    ? new String(one.credential().get().get(), StandardCharsets.US_ASCII)
                    : one.value().fill(values));
        }
        return made;
    }

    /** An answer as JSON: the proto3 JSON mapping, with all fields that have a value. */
    String json(byte[] message) throws InvalidProtocolBufferException {
        return printer.print(DynamicMessage.parseFrom(output, message));
    }

    /** Method, metadata and messages, for people. */
    String shown(@Nullable CallValues values) {
        if (values == null) {
            return method.getFullMethodName();
        }
        var shown = new StringBuilder(method.getFullMethodName()).append('\n');
        for (NamedValue one : metadata) {
            shown.append(one.key().originalName()).append(": ")
                    .append(one.credential().isPresent() ? "(secret)" : one.value().shown(values)).append('\n');
        }
        for (Template message : messages) {
            shown.append('\n').append(message.shown(values));
        }
        return shown.toString();
    }
}
