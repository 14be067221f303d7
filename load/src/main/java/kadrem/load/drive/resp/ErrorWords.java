package kadrem.load.drive.resp;

import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** The first words of errors, such as WRONGTYPE, as numbers in the order in which they occurred. Thread-safe. */
final class ErrorWords {
    private static final int FIRST = 1000;
    /** A store that makes up words does not fill the memory. */
    private static final int MAX = 200;

    private final Map<String, Integer> numbers = new ConcurrentHashMap<>();
    private final Map<Integer, String> words = new ConcurrentHashMap<>();

    int number(String error) {
        String word = error.split("\\s", 2)[0];
        Integer known = numbers.get(word);
        if (known != null) {
            return known;
        }
        synchronized (this) {
            if (numbers.size() >= MAX) {
                return FIRST;
            }
            int number = FIRST + numbers.size();
            Integer before = numbers.putIfAbsent(word, number);
            words.putIfAbsent(number, word);
            return before == null ? number : before;
        }
    }

    String word(int number) {
        return words.getOrDefault(number, "");
    }
}
