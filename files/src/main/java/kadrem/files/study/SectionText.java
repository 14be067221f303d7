package kadrem.files.study;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.MissingNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import com.fasterxml.jackson.dataformat.yaml.YAMLGenerator;

/**
 * Carries out an {@link Edit} in the text of a study file: the top-level group that it touches is written anew, everything
 * around it stays to the letter. Comments inside the group are lost; fields that Kadrem does not know survive.
 */
final class SectionText {
    private static final ObjectMapper YAML = new ObjectMapper(YAMLFactory.builder()
            .disable(YAMLGenerator.Feature.WRITE_DOC_START_MARKER).disable(YAMLGenerator.Feature.SPLIT_LINES)
            .enable(YAMLGenerator.Feature.MINIMIZE_QUOTES)
            .enable(YAMLGenerator.Feature.ALWAYS_QUOTE_NUMBERS_AS_STRINGS)
            .enable(YAMLGenerator.Feature.INDENT_ARRAYS_WITH_INDICATOR).build());
    private static final Pattern STEP = Pattern.compile("([^.\\[\\]]+)|\\[(\\d+)]");

    private SectionText() {
    }

    /** @param tree the file as read, for the places of its groups */
    static String with(String text, YamlNode.Mapping tree, Edit edit) throws StudyException {
        ObjectNode root;
        try {
            root = (ObjectNode) YAML.readTree(text);
        } catch (IOException cause) {
            throw new StudyException("The study cannot be changed while it is not valid YAML: " + cause.getMessage());
        }
        apply(root, edit);
        String section = edit.section();
        ObjectNode alone = YAML.createObjectNode();
        alone.set(section, root.get(section));
        String written;
        try {
            written = YAML.writeValueAsString(alone);
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
        YamlNode.Entry entry = tree.entries().get(section);
        if (entry == null) {
            return text + (text.endsWith("\n") ? "" : "\n") + written;
        }
        int from = entry.keyFrom();
        int next = tree.entries().values().stream().mapToInt(YamlNode.Entry::keyFrom).filter(at -> at > from).min()
                .orElse(text.length());
        return text.substring(0, from) + written + text.substring(beforeComments(text, from, next));
    }

    /** Comments and empty lines right before the next group belong to it. */
    private static int beforeComments(String text, int from, int next) {
        int end = next;
        while (end > from) {
            int line = text.lastIndexOf('\n', end - 2) + 1;
            String content = text.substring(line, Math.max(line, end - 1)).strip();
            if (line <= from || !content.isEmpty() && !content.startsWith("#")) {
                break;
            }
            end = line;
        }
        return end;
    }

    private static void apply(ObjectNode root, Edit edit) throws StudyException {
        switch (edit) {
            case Edit.Put put -> {
                ObjectNode group = group(root, put.path());
                put.fields().forEach((name, value) -> value.ifPresentOrElse(
                        given -> group.set(name, YAML.valueToTree(given)), () -> group.remove(name)));
            }
            case Edit.Insert insert ->
                list(root, insert.path()).insert(insert.index(), YAML.<JsonNode>valueToTree(insert.item()));
            case Edit.Remove remove -> list(root, remove.path()).remove(remove.index());
            case Edit.Move move -> {
                ArrayNode list = list(root, move.path());
                JsonNode item = list.remove(move.index());
                list.insert(move.to(), item);
            }
        }
    }

    private static ObjectNode group(ObjectNode root, String path) throws StudyException {
        return switch (at(root, path, false)) {
            case ObjectNode group -> group;
            default -> throw new StudyException(path + " cannot be changed: it is not a group of fields.");
        };
    }

    private static ArrayNode list(ObjectNode root, String path) throws StudyException {
        return switch (at(root, path, true)) {
            case ArrayNode list -> list;
            default -> throw new StudyException(path + " cannot be changed: it is not a list.");
        };
    }

    /** @param asList whether what is missing at the end of the path is made as a list or as a group */
    private static JsonNode at(ObjectNode root, String path, boolean asList) throws StudyException {
        JsonNode node = root;
        List<String[]> steps = steps(path);
        for (int i = 0; i < steps.size(); i++) {
            String name = steps.get(i)[0];
            boolean last = i == steps.size() - 1;
            JsonNode below = steps.get(i)[1] == null
                    ? node.path(name)
                    : node.path(Integer.parseInt(steps.get(i)[1]));
            boolean missing = below instanceof MissingNode || below.isNull();
            if (missing && node instanceof ObjectNode group && steps.get(i)[1] == null) {
                boolean list = last ? asList : steps.get(i + 1)[1] != null;
                below = list ? group.putArray(name) : group.putObject(name);
            } else if (missing) {
                throw new StudyException(path + " cannot be changed: there is no such place in the study.");
            }
            node = below;
        }
        return node;
    }

    /** Name or index of each step. */
    private static List<String[]> steps(String path) {
        var steps = new ArrayList<String[]>();
        Matcher matcher = STEP.matcher(path);
        while (matcher.find()) {
            steps.add(new String[]{matcher.group(1), matcher.group(2)});
        }
        return steps;
    }
}
