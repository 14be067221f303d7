package kadrem.files.run;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.OptionalLong;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.measure.Distribution;
import kadrem.core.measure.FailureKind;
import kadrem.core.measure.LatencySummary;
import kadrem.core.measure.PartFigures;
import kadrem.core.measure.RunFigures;

/** The figures of a run's measured part as JSON, and back; latencies in nanoseconds. */
final class FiguresJson {
    private FiguresJson() {
    }

    static ObjectNode write(RunFigures figures) {
        ObjectNode node = JsonNodeFactory.instance.objectNode();
        node.put("sent", figures.sent()).put("good", figures.good());
        node.set("failed", failed(figures.failed()));
        node.put("unsent", figures.unsent()).put("seconds", figures.seconds()).put("goodInTime", figures.goodInTime())
                .put("throughput", figures.throughput()).put("bytesOut", figures.bytesOut())
                .put("bytesIn", figures.bytesIn());
        node.set("responseTimeNanos", latency(figures.response()));
        node.set("serviceTimeNanos", latency(figures.service()));
        node.set("responseRawNanos", latency(figures.raw()));
        distribution(node, figures.distribution());
        node.set("lateNanos", latency(figures.late()));
        figures.cpuMillis().ifPresent(cpu -> node.put("cpuMillis", cpu));
        figures.peakMemory().ifPresent(memory -> node.put("peakMemoryBytes", memory));
        node.set("connectNanos", latency(figures.connects().connect()));
        node.set("handshakeNanos", latency(figures.connects().handshake()));
        parts(node.putArray("calls"), figures.calls());
        if (!figures.crowds().isEmpty()) {
            parts(node.putArray("crowds"), figures.crowds());
        }
        return node;
    }

    private static void parts(ArrayNode array, List<PartFigures> parts) {
        for (PartFigures part : parts) {
            ObjectNode entry = array.addObject().put("name", part.name()).put("sent", part.sent()).put("good",
                    part.good());
            entry.set("failed", failed(part.failed()));
            part.goodInTime().ifPresent(good -> entry.put("goodInTime", good));
            entry.set("responseTimeNanos", latency(part.response()));
            entry.set("serviceTimeNanos", latency(part.service()));
            entry.set("responseRawNanos", latency(part.raw()));
            entry.set("lateNanos", latency(part.late()));
            distribution(entry, part.distribution());
        }
    }

    private static void distribution(ObjectNode node, Distribution distribution) {
        if (distribution.isKnown()) {
            ObjectNode written = node.putObject("responseDistribution");
            written.set("upToNanos", numbers(distribution.borders()));
            written.set("counts", numbers(distribution.counts()));
        }
    }

    private static ObjectNode failed(Map<FailureKind, Long> failed) {
        ObjectNode node = JsonNodeFactory.instance.objectNode();
        for (FailureKind kind : FailureKind.values()) {
            node.put(kind.id(), failed.getOrDefault(kind, 0L));
        }
        return node;
    }

    static ObjectNode latency(LatencySummary latency) {
        ObjectNode node = JsonNodeFactory.instance.objectNode().put("count", latency.count()).put("mean",
                latency.mean());
        reached(node, "p50", latency.p50());
        reached(node, "p90", latency.p90());
        reached(node, "p95", latency.p95());
        reached(node, "p99", latency.p99());
        reached(node, "p999", latency.p999());
        node.put("max", latency.max());
        return latency.lacking() == 0 ? node : node.put("lacking", latency.lacking());
    }

    /** A percentile that was not reached is null. */
    private static void reached(ObjectNode node, String name, long nanos) {
        if (nanos == LatencySummary.NEVER) {
            node.putNull(name);
        } else {
            node.put(name, nanos);
        }
    }

    private static ArrayNode numbers(long[] numbers) {
        ArrayNode array = JsonNodeFactory.instance.arrayNode();
        Arrays.stream(numbers).forEach(array::add);
        return array;
    }

    static RunFigures read(JsonNode node) {
        return new RunFigures(node.path("sent").asLong(), node.path("good").asLong(), failed(node.path("failed")),
                node.path("unsent").asLong(), node.path("seconds").asDouble(), node.path("goodInTime").asLong(),
                node.path("bytesOut").asLong(), node.path("bytesIn").asLong(), latency(node.path("responseTimeNanos")),
                latency(node.path("serviceTimeNanos")),
                latency(node.has("lateNanos") ? node.path("lateNanos") : node.path("lagNanos")),
                optional(node.path("cpuMillis")), optional(node.path("peakMemoryBytes")), parts(node.path("calls")),
                new RunFigures.Connects(latency(node.path("connectNanos")), latency(node.path("handshakeNanos"))))
                .withRaw(latency(node.has("responseRawNanos")
                        ? node.path("responseRawNanos")
                        : node.path("responseTimeNanos")))
                .withDistribution(distribution(node.path("responseDistribution")))
                .withCrowds(parts(node.path("crowds")));
    }

    private static List<PartFigures> parts(JsonNode array) {
        var parts = new ArrayList<PartFigures>();
        for (JsonNode part : array) {
            LatencySummary response = latency(part.path("responseTimeNanos"));
            parts.add(new PartFigures(part.path("name").asText(), part.path("sent").asLong(),
                    part.path("good").asLong(), failed(part.path("failed")),
                    part.path("goodInTime").isNumber()
                            ? OptionalLong.of(part.path("goodInTime").asLong())
                            : OptionalLong.empty(),
                    response, latency(part.path("serviceTimeNanos")),
                    part.has("responseRawNanos") ? latency(part.path("responseRawNanos")) : response,
                    part.has("lateNanos") ? latency(part.path("lateNanos")) : LatencySummary.EMPTY,
                    distribution(part.path("responseDistribution"))));
        }
        return List.copyOf(parts);
    }

    private static Distribution distribution(JsonNode node) {
        return Distribution.of(numbers(node.path("upToNanos")), numbers(node.path("counts")));
    }

    private static long[] numbers(JsonNode array) {
        var numbers = new long[array.size()];
        for (int i = 0; i < numbers.length; i++) {
            numbers[i] = array.path(i).asLong();
        }
        return numbers;
    }

    static OptionalDouble optional(JsonNode node) {
        return node.isNumber() ? OptionalDouble.of(node.asDouble()) : OptionalDouble.empty();
    }

    private static Map<FailureKind, Long> failed(JsonNode node) {
        var failed = new EnumMap<FailureKind, Long>(FailureKind.class);
        for (FailureKind kind : FailureKind.values()) {
            failed.put(kind, node.path(kind.id()).asLong());
        }
        return failed;
    }

    static LatencySummary latency(JsonNode node) {
        return new LatencySummary(node.path("count").asLong(), node.path("mean").asDouble(), reached(node.path("p50")),
                reached(node.path("p90")), reached(node.path("p95")), reached(node.path("p99")),
                reached(node.path("p999")), node.path("max").asLong(), node.path("lacking").asLong());
    }

    private static long reached(JsonNode node) {
        return node.isNull() ? LatencySummary.NEVER : node.asLong();
    }
}
