package kadrem.desk.candidates;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Wire;
import kadrem.core.study.Written;
import kadrem.files.study.Edit;

/**
 * The wire of a candidate as one text: {@code http/2 streams 16}, {@code pipelined 8}, {@code per-visit}, {@code per-call},
 * {@code no-resumption}, {@code accept gzip,br}, {@code pack}, {@code redirects 5}, {@code cookies}, {@code socket PATH}, {@code trace 1%}, in
 * any order. What is not named is as usual.
 */
final class WireText {
    private WireText() {
    }

    static String write(Wire wire) {
        var words = new ArrayList<String>();
        boolean second = wire.protocol() == Wire.Protocol.HTTP_2;
        if (second) {
            words.add(wire.protocol().id());
        }
        if (wire.depth() > 1) {
            words.addAll(List.of(second ? "streams" : "pipelined", Integer.toString(wire.depth())));
        }
        if (wire.reuse() != Wire.Reuse.KEEP) {
            words.add(wire.reuse().id());
        }
        if (!wire.resumption()) {
            words.add("no-resumption");
        }
        if (!wire.accepted().isEmpty()) {
            words.addAll(List.of("accept", String.join(",", wire.accepted())));
        }
        if (wire.packs()) {
            words.add("pack");
        }
        if (wire.redirects() > 0) {
            words.addAll(List.of("redirects", Integer.toString(wire.redirects())));
        }
        if (wire.cookies()) {
            words.add("cookies");
        }
        wire.socket().ifPresent(path -> words.addAll(List.of("socket", path)));
        if (wire.traced() > 0) {
            words.addAll(List.of("trace", Written.significant(wire.traced() * 100) + "%"));
        }
        return Attribute.words(words);
    }

    /** The edit of the candidate at {@code path}; a word that is not known is told as an unknown protocol. */
    static Edit edit(String path, String text) {
        Map<String, Object> group = new LinkedHashMap<>();
        List<String> words = Attribute.split(text);
        for (int i = 0; i < words.size(); i++) {
            String word = words.get(i);
            switch (word) {
                case "http/1.1", "http/2" -> group.put("protocol", word);
                case "keep", "per-visit", "per-call" -> group.put("connections", word);
                case "no-resumption" -> group.put("resumption", false);
                case "pack", "cookies" -> group.put(word, true);
                case "accept" -> group.put(word, List.of(next(words, ++i).split(",")));
                case "streams", "pipelined", "redirects", "socket", "trace" -> group.put(word, next(words, ++i));
                default -> group.put("protocol", word);
            }
        }
        return new Edit.Put(path, Map.of("wire", group.isEmpty() ? Optional.empty() : Optional.of(group)));
    }

    private static String next(List<String> words, int place) {
        return place < words.size() ? words.get(place) : "";
    }
}
