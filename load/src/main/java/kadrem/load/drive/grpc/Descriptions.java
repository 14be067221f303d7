package kadrem.load.drive.grpc;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;

import com.google.protobuf.DescriptorProtos.FileDescriptorProto;
import com.google.protobuf.DescriptorProtos.FileDescriptorSet;
import com.google.protobuf.Descriptors.Descriptor;
import com.google.protobuf.Descriptors.DescriptorValidationException;
import com.google.protobuf.Descriptors.FileDescriptor;
import com.google.protobuf.Descriptors.MethodDescriptor;
import com.google.protobuf.Descriptors.ServiceDescriptor;
import com.google.protobuf.DynamicMessage;
import com.google.protobuf.InvalidProtocolBufferException;
import com.google.protobuf.TypeRegistry;
import com.google.protobuf.util.JsonFormat;
import io.grpc.ManagedChannel;
import io.grpc.Status;
import io.grpc.reflection.v1.ServerReflectionGrpc;
import io.grpc.reflection.v1.ServerReflectionRequest;
import io.grpc.reflection.v1.ServerReflectionResponse;
import io.grpc.reflection.v1.ServiceResponse;
import io.grpc.stub.StreamObserver;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Offer;
import kadrem.load.content.UnusableCall;

/** What a server's services look like: from files of the study, or by asking the server (gRPC server reflection, version 1). */
final class Descriptions {
    private static final int MAX_FILES = 2000;
    static final long MAX_BYTES = 64L << 20;

    private final Map<String, FileDescriptor> files = new LinkedHashMap<>();

    private Descriptions() {
    }

    /** Where they come from, for the fingerprint. */
    static String words(DriverOrder order) {
        List<String> named = order.access().settings().getOrDefault("descriptors", List.of());
        return named.isEmpty() ? "by reflection" : String.join(", ", named);
    }

    /**
     * The descriptions of the services that are asked for.
     *
     * @param services full names
     * @throws UnusableCall if they cannot be had; the message says why and how to mend it
     */
    static Descriptions of(DriverOrder order, Collection<String> services) throws UnusableCall {
        var found = new Descriptions();
        List<String> named = order.access().settings().getOrDefault("descriptors", List.of());
        if (named.isEmpty()) {
            found.ask(order, services);
        } else {
            for (String file : named) {
                found.read(order.secrets().folder().resolve(file), file);
            }
        }
        return found;
    }

    private void read(Path path, String name) throws UnusableCall {
        try {
            if (!Files.isRegularFile(path)) {
                throw new IOException("there is no such file");
            }
            if (Files.size(path) > MAX_BYTES) {
                throw new IOException("it has more than " + (MAX_BYTES >> 20) + " MiB");
            }
            byte[] set = name.endsWith(".proto") ? ProtoCompiler.compile(path) : Files.readAllBytes(path);
            link(FileDescriptorSet.parseFrom(set).getFileList());
        } catch (InvalidProtocolBufferException cause) {
            throw new UnusableCall(name + " is no descriptor set: " + cause.getMessage()
                    + ". Make one with protoc --include_imports --descriptor_set_out, or name the .proto file");
        } catch (IOException cause) {
            throw new UnusableCall("the description " + name + " cannot be read: " + cause.getMessage());
        }
    }

    private void link(Collection<FileDescriptorProto> protos) throws UnusableCall {
        Map<String, FileDescriptorProto> byName = new LinkedHashMap<>();
        protos.forEach(proto -> byName.put(proto.getName(), proto));
        for (FileDescriptorProto proto : protos) {
            link(proto, byName, new ArrayDeque<>());
        }
    }

    private FileDescriptor link(FileDescriptorProto proto, Map<String, FileDescriptorProto> byName,
            Deque<String> within) throws UnusableCall {
        FileDescriptor known = files.get(proto.getName());
        if (known != null) {
            return known;
        }
        if (within.contains(proto.getName())) {
            throw new UnusableCall("the description " + proto.getName() + " imports itself");
        }
        within.push(proto.getName());
        var imports = new ArrayList<FileDescriptor>();
        for (String name : proto.getDependencyList()) {
            FileDescriptorProto imported = byName.get(name);
            if (imported != null || files.containsKey(name)) {
                imports.add(imported == null ? files.get(name) : link(imported, byName, within));
            } else {
                throw new UnusableCall("the description " + proto.getName() + " imports " + name
                        + ", which is not there; make the descriptor set with --include_imports");
            }
        }
        within.pop();
        try {
            FileDescriptor linked = FileDescriptor.buildFrom(proto, imports.toArray(FileDescriptor[]::new));
            files.put(proto.getName(), linked);
            return linked;
        } catch (DescriptorValidationException cause) {
            throw new UnusableCall("the description " + proto.getName() + " is wrong: " + cause.getMessage());
        }
    }

    /** Asks for each service's file and then for what it imports. */
    private void ask(DriverOrder order, Collection<String> services) throws UnusableCall {
        try (var beside = new Channels.Beside(order);
                var conversation = new Conversation(beside.channel(), order.timeout().toMillis())) {
            Map<String, FileDescriptorProto> byName = new LinkedHashMap<>();
            for (String service : services) {
                conversation.files(ServerReflectionRequest.newBuilder().setFileContainingSymbol(service).build(),
                        "the service " + service).forEach(file -> byName.put(file.getName(), file));
            }
            var open = new ArrayDeque<>(byName.values());
            while (!open.isEmpty()) {
                for (String name : open.pop().getDependencyList()) {
                    if (!byName.containsKey(name) && byName.size() < MAX_FILES) {
                        for (FileDescriptorProto file : conversation.files(
                                ServerReflectionRequest.newBuilder().setFileByFilename(name).build(), name)) {
                            if (byName.putIfAbsent(file.getName(), file) == null) {
                                open.add(file);
                            }
                        }
                    }
                }
            }
            link(byName.values());
        }
    }

    /**
     * The method of that name.
     *
     * @param name service, a slash, method
     */
    MethodDescriptor method(String name) throws UnusableCall {
        String[] parts = name.split("/", 2);
        var known = new ArrayList<String>();
        for (FileDescriptor file : files.values()) {
            for (ServiceDescriptor service : file.getServices()) {
                if (service.getFullName().equals(parts[0])) {
                    MethodDescriptor method = service.findMethodByName(parts[1]);
                    if (method != null) {
                        return method;
                    }
                    throw new UnusableCall("the service " + parts[0] + " has no method " + parts[1] + "; it has "
                            + String.join(", ", service.getMethods().stream().map(MethodDescriptor::getName).toList()));
                }
                known.add(service.getFullName());
            }
        }
        throw new UnusableCall("no service is called " + parts[0]
                + (known.isEmpty() ? "" : "; there are " + String.join(", ", known)));
    }

    /** All message types, for messages of any type within others. */
    TypeRegistry types() {
        TypeRegistry.Builder types = TypeRegistry.newBuilder();
        for (FileDescriptor file : files.values()) {
            for (Descriptor type : file.getMessageTypes()) {
                types.add(type);
            }
        }
        return types.build();
    }

    /** All methods that a server has, by its files or as it tells, each with a message to begin with, for those who choose one. */
    static List<Offer> offered(DriverOrder order) throws UnusableCall {
        boolean told = order.access().settings().getOrDefault("descriptors", List.of()).isEmpty();
        Descriptions found = of(order, told ? services(order) : List.of());
        return found.files.values().stream().flatMap(file -> file.getServices().stream())
                .flatMap(service -> service.getMethods().stream())
                .map(Descriptions::offer).sorted(java.util.Comparator.comparing(Offer::text)).toList();
    }

    private static List<String> services(DriverOrder order) throws UnusableCall {
        try (var beside = new Channels.Beside(order);
                var conversation = new Conversation(beside.channel(), order.timeout().toMillis())) {
            return conversation.ask(ServerReflectionRequest.newBuilder().setListServices("").build(), "its services")
                    .getListServicesResponse().getServiceList().stream().map(ServiceResponse::getName)
                    .filter(name -> !name.startsWith("grpc.reflection.")).toList();
        }
    }

    /** Every field of the message at the value that it has when nothing is said. */
    private static Offer offer(MethodDescriptor method) {
        String name = method.getService().getFullName() + "/" + method.getName();
        try {
            return new Offer(name,
                    Map.of(method.isClientStreaming() ? "messages" : "message",
                            JsonFormat.printer().includingDefaultValueFields()
                                    .print(DynamicMessage.getDefaultInstance(method.getInputType()))));
        } catch (InvalidProtocolBufferException _) {
            return new Offer(name, Map.of());
        }
    }

    /** A stream of questions to a server's reflection service. */
    private static final class Conversation implements AutoCloseable {
        /** Answers that nobody asked for are not kept. */
        private final LinkedBlockingQueue<Object> answers = new LinkedBlockingQueue<>(4);
        private final StreamObserver<ServerReflectionRequest> questions;
        private final long deadline;

        /** @param limitMillis for all of it */
        Conversation(ManagedChannel channel, long limitMillis) {
            deadline = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(limitMillis);
            questions = ServerReflectionGrpc.newStub(channel).serverReflectionInfo(new StreamObserver<>() {
                @Override
                public void onNext(ServerReflectionResponse answer) {
                    answers.offer(answer);
                }

                @Override
                public void onError(Throwable cause) {
                    answers.offer(cause);
                }

                @Override
                public void onCompleted() {
                    answers.offer(new ExecutionException("the server ended the conversation", null));
                }
            });
        }

        ServerReflectionResponse ask(ServerReflectionRequest question, String what) throws UnusableCall {
            questions.onNext(question);
            Object answer;
            try {
                answer = answers.poll(deadline - System.nanoTime(), TimeUnit.NANOSECONDS);
            } catch (InterruptedException _) {
                Thread.currentThread().interrupt();
                throw new UnusableCall("the description of " + what + " was not waited for");
            }
            if (answer instanceof ServerReflectionResponse found && !found.hasErrorResponse()) {
                return found;
            }
            String why = switch (answer) {
                case null -> "it does not answer";
                case ServerReflectionResponse refusing -> refusing.getErrorResponse().getErrorMessage();
                case Throwable cause when Status.fromThrowable(cause).getCode() == Status.Code.UNIMPLEMENTED ->
                    "it has no reflection; name a descriptor set or .proto files as the setting descriptors of the candidate";
                case Throwable cause -> Status.fromThrowable(cause).getCode() + ": "
                        + Status.fromThrowable(cause).getDescription();
                default -> String.valueOf(answer);
            };
            throw new UnusableCall("the server does not describe " + what + ": " + why);
        }

        List<FileDescriptorProto> files(ServerReflectionRequest question, String what) throws UnusableCall {
            var files = new ArrayList<FileDescriptorProto>();
            for (var bytes : ask(question, what).getFileDescriptorResponse().getFileDescriptorProtoList()) {
                try {
                    files.add(FileDescriptorProto.parseFrom(bytes));
                } catch (InvalidProtocolBufferException cause) {
                    throw new UnusableCall("the server's description of " + what + " cannot be read: "
                            + cause.getMessage());
                }
            }
            return files;
        }

        @Override
        public void close() {
            questions.onCompleted();
        }
    }
}
