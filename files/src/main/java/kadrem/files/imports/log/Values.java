package kadrem.files.imports.log;

import java.util.LinkedHashSet;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Pattern;

import kadrem.core.gate.Credentials;
import kadrem.files.imports.Naming;

/** The values that stood at one place of a call's address, or at several places that share a value list. */
final class Values {
    /** Different values of a list that are kept; numbers beyond it are known by the least and the most. */
    static final int MOST = 200_000;
    private static final int MOST_WORDS = 30;
    private static final int LONGEST_NUMBER = 15;
    private static final Pattern NUMBER = Pattern.compile("0|[1-9]\\d*");
    private static final Pattern PLAIN = Pattern.compile("[A-Za-z0-9_.:~-]{0,40}");
    private static final Pattern DATE = Pattern
            .compile("\\d{4}-\\d\\d(-\\d\\d([T ][0-9:.]+(Z|[+-]\\d\\d:?\\d\\d)?)?)?");
    /** RFC 5322, section 3.4.1, as far as it is met in addresses. */
    private static final Pattern MAIL = Pattern.compile("[^@\\s]+@[^@\\s]+\\.[A-Za-z]{2,}");
    private static final Pattern HOST = Pattern
            .compile("\\d{1,3}(\\.\\d{1,3}){3}|[0-9a-fA-F]{0,4}(:[0-9a-fA-F]{0,4}){3,7}");
    private static final Pattern PHONE = Pattern.compile("(\\+|00)[\\d ()/-]{7,20}");
    /** Parameters whose values tell of people: common practice, no source. */
    private static final Pattern OF_PEOPLE = Pattern
            .compile("(first|last|sur|user|full|nick)?name|e?mail|(tele|mobile)?phone|mobile"
                    + "|tel|street|address|zip|postcode|birth.*|dob|lat|lon|lng|latitude|longitude|iban|card|ssn|user|login|account"
                    + "|q|query|search|term|terms|text|comment|message|note|subject");
    /** Parts of a path below which words name people: common practice, no source. */
    private static final Pattern PEOPLE = Pattern
            .compile("users?|people|persons?|members?|customers?|contacts?|accounts"
                    + "|profiles?|authors?|patients?|employees?");
    /** Words below them that name nobody: common practice, no source. */
    private static final Pattern NOBODY = Pattern
            .compile("me|self|current|all|list|search|count|new|edit|settings|export"
                    + "|import|login|logout|register|signup|");

    private final Set<String> seen = new LinkedHashSet<>();
    private boolean tooMany;
    private boolean numbers = true;
    private boolean unlike;
    private boolean personal;
    private boolean secret;
    private long least = Long.MAX_VALUE;
    private long most = Long.MIN_VALUE;

    /**
     * @param stem what stands before the value: the parameter's name, or the part of the path
     * @param parameter whether it stands in the address's question
     */
    void add(String value, String stem, boolean parameter) {
        if (seen.contains(value)) {
            return;
        }
        boolean number = value.length() <= LONGEST_NUMBER && NUMBER.matcher(value).matches();
        numbers &= number;
        if (number) {
            least = Math.min(least, Long.parseLong(value));
            most = Math.max(most, Long.parseLong(value));
        }
        boolean kindOfId = number || Naming.isId(value) || DATE.matcher(value).matches();
        unlike |= !kindOfId && !PLAIN.matcher(value).matches();
        String plain = stem.toLowerCase(Locale.ROOT).replaceAll("[^a-z]", "");
        personal |= isOfPeople(value)
                || !kindOfId && !value.isEmpty() && (parameter ? OF_PEOPLE : PEOPLE).matcher(plain).matches();
        secret |= !Credentials.in(parameter ? stem + "=" + value : value).isEmpty();
        if (seen.size() < MOST) {
            seen.add(value);
        } else {
            tooMany = true;
        }
        personal |= parameter && !kindOfId && seen.size() > MOST_WORDS;
    }

    private static boolean isOfPeople(String value) {
        return MAIL.matcher(value).matches() || HOST.matcher(value).matches() || PHONE.matcher(value).matches();
    }

    /**
     * Whether a part of a path never stays as it is, since it tells of people or is a credential.
     *
     * @param before the part before it
     */
    static boolean isPrivate(String part, String before) {
        return isOfPeople(part) || !Credentials.in(part).isEmpty()
                || PEOPLE.matcher(before.toLowerCase(Locale.ROOT)).matches() && !NOBODY.matcher(part).matches();
    }

    void addAll(Values other) {
        numbers &= other.numbers;
        unlike |= other.unlike;
        personal |= other.personal;
        secret |= other.secret;
        tooMany |= other.tooMany;
        least = Math.min(least, other.least);
        most = Math.max(most, other.most);
        for (String value : other.seen) {
            if (seen.size() < MOST || seen.contains(value)) {
                seen.add(value);
            } else {
                tooMany = true;
            }
        }
    }

    /** Different values in the order in which they came. */
    Set<String> seen() {
        return seen;
    }

    boolean isOne() {
        return seen.size() == 1 && !tooMany;
    }

    /** Whether there are more than are kept. */
    boolean isCut() {
        return tooMany;
    }

    boolean isNumbers() {
        return numbers;
    }

    long least() {
        return least;
    }

    long most() {
        return most;
    }

    /** Whether a value is, or may be, of a person. */
    boolean isPersonal() {
        return personal || unlike;
    }

    boolean isSecret() {
        return secret;
    }
}
