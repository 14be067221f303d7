package kadrem.files.history;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.DateTimeException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.TreeMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import kadrem.core.study.Metric;
import kadrem.core.verdict.Comparison;
import kadrem.core.verdict.History;
import kadrem.core.verdict.Regression;

/** {@code history.jsonl} of a study: a line for each version that was measured, only ever added to ({@code history.schema.json}). */
public final class HistoryFile {
    public static final String NAME = "history.jsonl";
    private static final ObjectMapper JSON = new ObjectMapper();

    private HistoryFile() {
    }

    /**
     * What was found.
     *
     * @param unreadable sentences on lines that cannot be read
     */
    public record Found(List<History.Entry> entries, List<String> unreadable) {
        public Found {
            entries = List.copyOf(entries);
            unreadable = List.copyOf(unreadable);
        }

        /** Those of one candidate. */
        public List<History.Entry> of(String candidate) {
            return entries.stream().filter(entry -> entry.candidate().equals(candidate)).toList();
        }
    }

    /** The history of a study; none where there is no file. A line that cannot be read is left out. */
    public static Found read(Path study) throws IOException {
        Path file = study.resolve(NAME);
        var entries = new ArrayList<History.Entry>();
        var unreadable = new ArrayList<String>();
        if (Files.exists(file)) {
            List<String> lines = Files.readAllLines(file);
            for (int i = 0; i < lines.size(); i++) {
                if (!lines.get(i).isBlank()) {
                    try {
                        entries.add(entry(JSON.readTree(lines.get(i))));
                    } catch (JsonProcessingException | DateTimeException | IllegalArgumentException cause) {
                        unreadable.add(file + ", line " + (i + 1) + " cannot be read and is left out: "
                                + String.valueOf(cause.getMessage()).lines().findFirst().orElse(""));
                    }
                }
            }
        }
        return new Found(entries, unreadable);
    }

    private static History.Entry entry(JsonNode line) {
        var values = new TreeMap<Metric, List<Double>>();
        for (Metric metric : Metric.all()) {
            var own = new ArrayList<Double>();
            for (JsonNode value : line.path("values").path(metric.id())) {
                double number = value.asDouble(Double.NaN);
                if (!value.isNull() && !Double.isFinite(number)) {
                    throw new IllegalArgumentException("a value of " + metric.id() + " is no number");
                }
                own.add(value.isNull() ? metric.worst() : number);
            }
            if (!own.isEmpty()) {
                values.put(metric, List.copyOf(own));
            }
        }
        if (!line.path("version").isTextual() || !line.path("candidate").isTextual() || values.isEmpty()) {
            throw new IllegalArgumentException("it has no version, candidate and values");
        }
        return new History.Entry(line.path("version").asText(), Instant.parse(line.path("at").asText()),
                line.path("candidate").asText(),
                Optional.of(line.path("sitting").asText()).filter(sitting -> !sitting.isEmpty()), values);
    }

    /** The lines of a version, from the runs of a comparison that entered: one for each sitting in which it was measured. */
    public static List<History.Entry> entries(Comparison comparison, String ofComparison, String version, Instant at,
            String candidate) {
        var entries = new ArrayList<History.Entry>();
        comparison.sittings().forEach((sitting, rounds) -> {
            var values = new TreeMap<Metric, List<Double>>();
            for (Metric metric : Metric.all()) {
                Map<Integer, Double> own = comparison.values(metric, ofComparison);
                own.keySet().retainAll(rounds);
                if (!own.isEmpty()) {
                    values.put(metric, List.copyOf(own.values()));
                }
            }
            if (!values.isEmpty()) {
                entries.add(new History.Entry(version, at, candidate,
                        Optional.of(sitting).filter(one -> !one.isEmpty()), values));
            }
        });
        return entries;
    }

    /**
     * Adds both versions of a candidate that were measured beside each other.
     *
     * @param versions their names, the earlier one first
     * @param at when each was made
     */
    public static void add(Path study, Comparison comparison, String candidate, List<String> versions,
            List<Instant> at) throws IOException {
        for (History.Entry entry : entries(comparison, Regression.BEFORE, versions.getFirst(), at.getFirst(),
                candidate)) {
            add(study, entry);
        }
        for (History.Entry entry : entries(comparison, Regression.AFTER, versions.getLast(), at.getLast(), candidate)) {
            add(study, entry);
        }
    }

    /** When the history of a study was last written; 0 where there is none. */
    public static long writtenMillis(Path study) {
        return study.resolve(NAME).toFile().lastModified();
    }

    /** Adds a line, unless the same figures of the same version are there already, as after a build that was run again. */
    public static void add(Path study, History.Entry entry) throws IOException {
        if (read(study).entries().stream().anyMatch(known -> known.version().equals(entry.version())
                && known.candidate().equals(entry.candidate()) && known.values().equals(entry.values()))) {
            return;
        }
        ObjectNode line = JSON.createObjectNode();
        line.put("version", entry.version()).put("at", entry.at().toString()).put("candidate", entry.candidate());
        entry.sitting().ifPresent(sitting -> line.put("sitting", sitting));
        ObjectNode values = line.putObject("values");
        for (Map.Entry<Metric, List<Double>> one : new TreeMap<>(entry.values()).entrySet()) {
            ArrayNode list = values.putArray(one.getKey().id());
            one.getValue().forEach(value -> {
                if (Double.isFinite(value)) {
                    list.add(value);
                } else {
                    list.addNull();
                }
            });
        }
        Files.write(study.resolve(NAME), (JSON.writeValueAsString(line) + "\n").getBytes(StandardCharsets.UTF_8),
                StandardOpenOption.CREATE, StandardOpenOption.APPEND);
    }

    /** A history as JSON, with its steps. */
    public static String json(History history) {
        ObjectNode root = JSON.createObjectNode();
        root.put("metric", history.metric().id());
        ArrayNode entries = root.putArray("entries");
        history.entries().forEach(entry -> entries.addObject().put("version", entry.version())
                .put("at", entry.at().toString()).put("candidate", entry.candidate())
                .put("runs", entry.values().getOrDefault(history.metric(), List.of()).size())
                .put("centre", entry.centre(history.metric()).orElseThrow()));
        ArrayNode unreached = root.putArray("unreached");
        history.unreached().forEach(entry -> unreached.addObject().put("version", entry.version())
                .put("at", entry.at().toString()).put("candidate", entry.candidate())
                .put("runs", entry.values().getOrDefault(history.metric(), List.of()).size()));
        ArrayNode steps = root.putArray("steps");
        history.steps().forEach(step -> {
            ObjectNode node = steps.addObject().put("at", step.at())
                    .put("version", history.entries().get(step.at()).version()).put("estimate", step.estimate())
                    .put("sittingsBefore", step.before()).put("sittingsAfter", step.after());
            step.interval().ifPresent(i -> node.put("low", i.low()).put("high", i.high()).put("achievedConfidence",
                    i.achievedConfidence()));
            node.put("sentence", history.sentence(step));
        });
        return root.toPrettyString();
    }
}
