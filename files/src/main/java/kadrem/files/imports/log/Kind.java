package kadrem.files.imports.log;

import java.util.ArrayList;
import java.util.List;
import java.util.SortedSet;
import java.util.TreeSet;
import java.util.stream.Collectors;

/** Addresses of one kind, which become one call: what they have in common, and the places in which they may differ. */
final class Kind {
    final String method;
    final List<Place> places = new ArrayList<>();
    final SortedSet<Integer> redirects = new TreeSet<>();
    private final int parts;
    long count;

    /** A part of the path or a parameter. */
    static final class Place {
        /** Of a part that stays as it is; null where it is a place for values. */
        final String text;
        final String stem;
        final boolean parameter;
        final boolean bare;
        final Values values = new Values();

        Place(String text, String stem, boolean parameter, boolean bare) {
            this.text = text;
            this.stem = stem;
            this.parameter = parameter;
            this.bare = bare;
        }

        boolean isFixed() {
            return bare || !text.isEmpty();
        }
    }

    private Kind(String method, int parts) {
        this.method = method;
        this.parts = parts;
    }

    static Kind of(Address address) {
        var kind = new Kind(address.method(), address.parts().size());
        String before = "";
        for (int i = 0; i < address.parts().size(); i++) {
            boolean varies = address.varies(i);
            kind.places.add(new Place(varies ? "" : "/" + address.parts().get(i), before, false, false));
            before = varies || address.parts().get(i).isEmpty() ? before : address.parts().get(i);
        }
        address.parameters().forEach(one -> kind.places.add(new Place("", one.name(), true, one.bare())));
        return kind;
    }

    /** A kind for many that differ in one part of the path only, which becomes a place for values. */
    static Kind together(List<Kind> alike, int part) {
        Kind first = alike.getFirst();
        var kind = new Kind(first.method, first.parts);
        for (int i = 0; i < first.places.size(); i++) {
            Place place = first.places.get(i);
            kind.places.add(i == part
                    ? new Place("", place.stem, false, false)
                    : new Place(place.text, place.stem, place.parameter, place.bare));
        }
        for (Kind one : alike) {
            kind.count += one.count;
            kind.redirects.addAll(one.redirects);
            for (int i = 0; i < kind.places.size(); i++) {
                if (i == part) {
                    kind.places.get(i).values.add(Address.decodedPart(one.places.get(i).text.substring(1)),
                            kind.places.get(i).stem, false);
                } else if (!kind.places.get(i).isFixed()) {
                    kind.places.get(i).values.addAll(one.places.get(i).values);
                }
            }
        }
        return kind;
    }

    int parts() {
        return parts;
    }

    /** What it has in common with kinds that differ in a part of the path only. */
    String without(int part) {
        var key = new StringBuilder(method);
        for (int i = 0; i < places.size(); i++) {
            Place place = places.get(i);
            key.append(' ').append(i == part ? "\1" : place.isFixed() ? place.text : "\0")
                    .append(place.parameter ? place.stem : "");
        }
        return key.toString();
    }

    void add(Address address, int status) {
        count++;
        if (status / 100 == 3) {
            redirects.add(status);
        }
        for (int i = 0; i < places.size(); i++) {
            Place place = places.get(i);
            if (!place.isFixed()) {
                place.values.add(value(address, i), place.stem, place.parameter);
            }
        }
    }

    /** What stands at a place of an address of this kind. */
    String value(Address address, int place) {
        return place < parts ? address.part(place) : address.parameters().get(place - parts).value();
    }

    /** The address with what {@code stands} at each place that is not fixed. */
    String target(List<String> stands) {
        var target = new StringBuilder();
        for (int i = 0; i < parts; i++) {
            target.append(places.get(i).isFixed() ? places.get(i).text : "/" + stands.get(i));
        }
        var question = new ArrayList<String>();
        for (int i = parts; i < places.size(); i++) {
            question.add(places.get(i).stem + (places.get(i).bare ? "" : "=" + stands.get(i)));
        }
        return target + (question.isEmpty() ? "" : question.stream().collect(Collectors.joining("&", "?", "")));
    }
}
