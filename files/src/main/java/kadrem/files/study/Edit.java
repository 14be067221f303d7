package kadrem.files.study;

import java.util.Map;
import java.util.Optional;

/**
 * A change of a study file below one of its top-level groups. Places are paths such as
 * {@code workload.visits[0].calls[1]}; values are texts, lists and maps of such.
 */
public sealed interface Edit {
    /** Where. */
    String path();

    /** Sets fields of the group at {@code path}, which is made where it is missing; an empty value removes its field. */
    record Put(String path, Map<String, Optional<Object>> fields) implements Edit {
        public Put {
            fields = Map.copyOf(fields);
        }

        /** With an empty path the one field is itself the top-level group. */
        @Override
        public String section() {
            return path.isEmpty() ? fields.keySet().iterator().next() : Edit.super.section();
        }
    }

    /** Puts an item into the list at {@code path}, which is made where it is missing. */
    record Insert(String path, int index, Object item) implements Edit {
    }

    /** Takes an item out of the list at {@code path}. */
    record Remove(String path, int index) implements Edit {
    }

    /** Moves an item of the list at {@code path} to another place of it. */
    record Move(String path, int index, int to) implements Edit {
    }

    /** The top-level group that is changed. */
    default String section() {
        return path().split("[.\\[]", 2)[0];
    }
}
