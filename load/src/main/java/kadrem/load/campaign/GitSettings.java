package kadrem.load.campaign;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Settings for git that go before those of a repository, which may name programs to be run. They are handed over by the environment (git 2.31
 * and later), where a name may hold any character; behind an option {@code -c} one with "=" would set something else.
 */
final class GitSettings {
    private final List<String> names = new ArrayList<>();
    private final List<String> values = new ArrayList<>();

    /** No watcher of files and no hooks. */
    GitSettings() {
        with("core.fsmonitor", "false");
        with("core.hooksPath", "/dev/null");
    }

    void with(String name, String value) {
        names.add(name);
        values.add(value);
    }

    /** Variables of the environment. */
    Map<String, String> environment() {
        Map<String, String> variables = new HashMap<>();
        variables.put("GIT_CONFIG_COUNT", Integer.toString(names.size()));
        for (int i = 0; i < names.size(); i++) {
            variables.put("GIT_CONFIG_KEY_" + i, names.get(i));
            variables.put("GIT_CONFIG_VALUE_" + i, values.get(i));
        }
        return variables;
    }
}
