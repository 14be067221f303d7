package kadrem.files.imports;

import java.util.Locale;
import java.util.Set;

import kadrem.core.gate.Credentials;
import kadrem.core.study.Call;

/** Puts references in the place of the secrets of a call. */
final class References {
    /** A capture must not choose which variable of this machine's is sent: none that is there for another purpose begins like this. */
    static final String OURS = "KADREM_";

    private References() {
    }

    /** A capture holds what its user signed in with, and a study is passed on. */
    static FoundCall inPlaceOfSecrets(FoundCall call, Set<String> said) {
        String where = Imported.where(call);
        return call
                .with(referring(call.target(), 0, "", where, said),
                        call.headers().stream().map(header -> referring(header, where, said)).toList(),
                        referring(call.body(), 0, "", where, said))
                .withParts(call.parts().stream().map(part -> new FoundCall.Part(part.name(),
                        value(part.name(), part.text(), where, said), part.kind())).toList());
    }

    /** A header that is there to sign in holds nothing but a secret, unless a part of it is seen to be one. */
    private static Call.Header referring(Call.Header header, String where, Set<String> said) {
        String value = value(header.name(), header.value(), where, said);
        if (Credentials.isHeader(header.name()) && value.equals(header.value())
                && Call.placeholders(value).isEmpty()) {
            said.add(note("the header " + header.name(), where, variable(header.name())));
            value = "{{env:" + variable(header.name()) + "}}";
        }
        return new Call.Header(header.name(), value);
    }

    /** A value looks like a secret by itself, or by the name that it has. */
    private static String value(String name, String text, String where, Set<String> said) {
        String before = name + ": ";
        return referring(before + text, before.length(), name, where, said);
    }

    /**
     * @param begin of what is wanted of the text
     * @param name in whose value the text stands; empty where it has none
     */
    private static String referring(String text, int begin, String name, String where, Set<String> said) {
        var kept = new StringBuilder();
        int from = begin;
        for (Credentials.Find find : Credentials.in(text)) {
            if (find.begin() < from) {
                continue;
            }
            String variable = variable(find.name().isEmpty() ? name : find.name());
            kept.append(text, from, find.begin()).append("{{env:").append(variable).append("}}");
            from = find.end();
            said.add(note(find.what(), where, variable));
        }
        return kept.append(text, from, text.length()).toString();
    }

    private static String variable(String name) {
        String plain = name.replaceAll("[^A-Za-z0-9]+", "_").replaceAll("^_|_$", "").toUpperCase(Locale.ROOT);
        return OURS + (plain.isEmpty() ? "CREDENTIAL" : plain);
    }

    private static String note(String what, String where, String variable) {
        return what + " in " + where + " was not taken over, since it looks like a secret: a reference stands in its"
                + " place, for which the environment variable " + variable + " has to be set";
    }
}
