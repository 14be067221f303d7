package kadrem.files.study;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What a study file says, without the way in which it is written: maps, lists, texts, and an empty text for what is empty. An edit
 * of it is what an edit of the text must come to.
 */
final class PlainTree {
    private static final Object MISSING = new Object();
    private static final Pattern STEP = Pattern.compile("([^.\\[\\]]+)|\\[(\\d+)]");

    private PlainTree() {
    }

    static Object of(YamlNode node) {
        return switch (node) {
            case YamlNode.Scalar scalar -> scalar.text();
            case YamlNode.Sequence sequence -> {
                var list = new ArrayList<Object>();
                sequence.items().forEach(item -> list.add(of(item)));
                yield list;
            }
            case YamlNode.Mapping mapping -> {
                var map = new LinkedHashMap<String, Object>();
                mapping.entries().forEach((name, entry) -> map.put(name, of(entry.value())));
                yield map;
            }
        };
    }

    /** The same of a value of an edit: numbers become what is written for them. */
    static Object of(Object value) {
        return switch (value) {
            case List<?> list -> {
                var all = new ArrayList<Object>();
                list.forEach(item -> all.add(of(item)));
                yield all;
            }
            case Map<?, ?> map -> {
                var all = new LinkedHashMap<String, Object>();
                map.forEach((name, one) -> all.put(String.valueOf(name), of(one)));
                yield all;
            }
            default -> String.valueOf(value);
        };
    }

    /** Name (a String) or index (an Integer) of each step of a path such as {@code workload.visits[0].calls}. */
    static List<Object> steps(String path) {
        var steps = new ArrayList<Object>();
        Matcher matcher = STEP.matcher(path);
        while (matcher.find()) {
            steps.add(matcher.group(1) == null ? (Object) Integer.valueOf(matcher.group(2)) : matcher.group(1));
        }
        return steps;
    }

    /** Carries the edit out on {@code root}, which was made by {@link #of(YamlNode)}. */
    static void apply(Map<String, Object> root, Edit edit) throws StudyException {
        try {
            switch (edit) {
                case Edit.Put put when put.fields().values().stream().anyMatch(Optional::isPresent) ->
                    put(map(root, put.path()), put.fields());
                case Edit.Put put -> {
                    // what is not there needs no making to have nothing in it
                    if (at(root, put.path(), false, false) != MISSING) {
                        put(map(root, put.path()), put.fields());
                    }
                }
                case Edit.Insert insert -> list(root, insert.path()).add(insert.index(), of(insert.item()));
                case Edit.Remove remove -> list(root, remove.path()).remove(remove.index());
                case Edit.Move move -> {
                    List<Object> list = list(root, move.path());
                    list.add(move.to(), list.remove(move.index()));
                }
                case Edit.Copy copy -> {
                    List<Object> list = list(root, copy.path());
                    list.add(copy.to(), of(list.get(copy.index())));
                    if (!copy.changes().isEmpty()) {
                        put(map(root, copy.path() + "[" + copy.to() + "]"), copy.changes());
                    }
                }
            }
        } catch (IndexOutOfBoundsException _) {
            throw new StudyException(edit.path() + " cannot be changed: it has no such item.");
        }
    }

    private static void put(Map<String, Object> group, Map<String, Optional<Object>> fields) {
        fields.forEach((name, value) -> value.ifPresentOrElse(given -> group.put(name, of(given)),
                () -> group.remove(name)));
    }

    @SuppressWarnings("unchecked")
    private static Map<String, Object> map(Map<String, Object> root, String path) throws StudyException {
        if (at(root, path, false, true) instanceof Map<?, ?> map) {
            return (Map<String, Object>) map;
        }
        throw new StudyException(path + " cannot be changed: it is not a group of fields.");
    }

    @SuppressWarnings("unchecked")
    private static List<Object> list(Map<String, Object> root, String path) throws StudyException {
        if (at(root, path, true, true) instanceof List<?> list) {
            return (List<Object>) list;
        }
        throw new StudyException(path + " cannot be changed: it is not a list.");
    }

    /**
     * @param asList whether what is missing at the end of the path is made as a list or as a group
     * @param makes whether it is made; otherwise the answer is {@link #MISSING}
     */
    @SuppressWarnings("unchecked")
    private static Object at(Map<String, Object> root, String path, boolean asList, boolean makes)
            throws StudyException {
        Object node = root;
        List<Object> steps = steps(path);
        for (int i = 0; i < steps.size(); i++) {
            Object step = steps.get(i);
            Object below = null;
            if (node instanceof Map<?, ?> map && step instanceof String name) {
                below = map.get(name);
                if ((below == null || below.equals("")) && !makes) {
                    return MISSING;
                }
                if (below == null || below.equals("")) {
                    boolean list = i == steps.size() - 1 ? asList : steps.get(i + 1) instanceof Integer;
                    below = list ? new ArrayList<>() : new LinkedHashMap<>();
                    ((Map<String, Object>) map).put(name, below);
                }
            } else if (node instanceof List<?> list && step instanceof Integer index && index < list.size()) {
                below = list.get(index);
            }
            if (below == null) {
                throw new StudyException(path + " cannot be changed: there is no such place in the study.");
            }
            node = below;
        }
        return node;
    }
}
