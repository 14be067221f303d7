package kadrem.files.study;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * A change of a study file. Places are paths such as {@code workload.visits[0].calls[1]}; values are texts, numbers, lists and
 * maps of such.
 */
public sealed interface Edit {
    /** Where. */
    String path();

    /** Sets fields of the group at {@code path}, which is made where it is missing; an empty value removes its field. */
    record Put(String path, Map<String, Optional<Object>> fields) implements Edit {
        public Put {
            fields = Collections.unmodifiableMap(new LinkedHashMap<>(fields));
        }

        /** Makes one group out of another: what is the same in both is not touched. */
        public static Put turning(String path, Map<String, Object> before, Map<String, Object> after) {
            var changes = new LinkedHashMap<String, Optional<Object>>();
            before.keySet().stream().filter(name -> !after.containsKey(name))
                    .forEach(name -> changes.put(name, Optional.empty()));
            after.forEach((name, value) -> {
                if (!value.equals(before.get(name))) {
                    changes.put(name, Optional.of(value));
                }
            });
            return new Put(path, changes);
        }
    }

    /** Puts an item into the list at {@code path}, which is made where it is missing. */
    record Insert(String path, int index, Object item) implements Edit {
    }

    /** Takes an item out of the list at {@code path}, with the comment right above it. */
    record Remove(String path, int index) implements Edit {
    }

    /** Moves an item of the list at {@code path} to another place of it, with the comment right above it. */
    record Move(String path, int index, int to) implements Edit {
    }

    /**
     * Puts a copy of an item, as it is written, into the same list.
     *
     * @param changes fields in which the copy differs; an empty value removes its field
     */
    record Copy(String path, int index, int to, Map<String, Optional<Object>> changes) implements Edit {
        public Copy {
            changes = Collections.unmodifiableMap(new LinkedHashMap<>(changes));
        }
    }
}
