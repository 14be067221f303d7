package kadrem.core.study.grammar;

import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * A field of a study file.
 *
 * @param words what it is, in a few words; stands beside the field and in tables
 * @param usual what holds where it is left out, as it is written
 * @param otherwise the same in words, where it cannot be written
 * @param example stands in the empty field and in messages
 * @param required whether it must be there
 * @param offered whether a server can be asked what it may be
 * @param conditions under which it means something; all of them must hold
 */
public record Field(String name, Kind kind, String words, Optional<String> usual, Optional<String> otherwise,
        String example, boolean required, boolean offered, List<Condition> conditions) {
    public Field {
        conditions = List.copyOf(conditions);
    }

    /**
     * What another field of the group must say.
     *
     * @param field its name
     * @param says the words of which it must say one; none where it must be left out
     */
    public record Condition(String field, List<String> says) {
        public Condition {
            says = List.copyOf(says);
        }
    }

    private static Field of(String name, Kind kind, String words, String example) {
        return new Field(name, kind, words, Optional.empty(), Optional.empty(), example, false, false, List.of());
    }

    public static Field line(String name, String words, String example) {
        return of(name, new Kind.Text(Optional.empty()), words, example);
    }

    /** @param mend what to do about a text that is not of the pattern */
    public static Field line(String name, String words, String example, String regex, String mend) {
        return of(name, new Kind.Text(Optional.of(new Kind.Form(regex, mend))), words, example);
    }

    public static Field lines(String name, String words, String example) {
        return of(name, new Kind.Lines(false), words, example);
    }

    public static Field json(String name, String words, String example) {
        return of(name, new Kind.Lines(true), words, example);
    }

    public static Field secret(String name, String words, String example) {
        return of(name, new Kind.Secret(), words, example);
    }

    public static Field flag(String name, String words, boolean usual) {
        return of(name, new Kind.Flag(), words, String.valueOf(!usual)).usually(String.valueOf(usual));
    }

    public static Field whole(String name, String words, long least, long most, String example) {
        return of(name, new Kind.Whole(least, most), words, example);
    }

    /** Any whole number that a program can count with. */
    public static Field whole(String name, String words, String example) {
        return whole(name, words, Long.MIN_VALUE, Long.MAX_VALUE, example);
    }

    public static Field number(String name, String words, double least, double most, String example) {
        return of(name, new Kind.Decimal(least, most), words, example);
    }

    public static Field share(String name, String words, double least, double most, String example) {
        return of(name, new Kind.Share(least, most), words, example);
    }

    public static Field time(String name, String words, Duration least, Duration most, String example) {
        return of(name, new Kind.Time(least, most, false), words, example);
    }

    public static Field seconds(String name, String words, Duration least, Duration most, String example) {
        return of(name, new Kind.Time(least, most, true), words, example);
    }

    /** @param options the usual one first */
    public static Field choice(String name, String words, String... options) {
        return of(name, new Kind.Choice(List.of(options)), words, options[0]).usually(options[0]);
    }

    /** One of a few words, of which none is usual. */
    public static Field oneOf(String name, String words, List<String> options, String example) {
        return of(name, new Kind.Choice(options), words, example);
    }

    /** A list of texts; a single one may stand in its place. */
    public static Field list(String name, String words, String example) {
        return of(name, new Kind.Texts(true, false, Optional.empty()), words, example);
    }

    /** A list of texts. */
    public static Field texts(String name, String words, boolean needed, String example) {
        return of(name, new Kind.Texts(false, needed, Optional.empty()), words, example);
    }

    public static Field pairs(String name, String words, String example) {
        return of(name, new Kind.Pairs(), words, example);
    }

    public static Field group(String name, Group group, String example) {
        return of(name, new Kind.One(group), group.words(), example);
    }

    public static Field groups(String name, Group group, String example) {
        return of(name, new Kind.Many(group, false), group.words(), example);
    }

    /** A list of groups that has one at least. */
    public static Field someGroups(String name, Group group, String example) {
        return of(name, new Kind.Many(group, true), group.words(), example).needed();
    }

    public static Field named(String name, Group group, String example) {
        return of(name, new Kind.Named(group), group.words(), example);
    }

    public static Field of(String name, Kind kind, String words, String usual, String example) {
        return of(name, kind, words, example).usually(usual);
    }

    /** The same field, which must be there. */
    public Field needed() {
        return new Field(name, kind, words, usual, otherwise, example, true, offered, conditions);
    }

    /** The same field, for which a server can be asked what it may be. */
    public Field asked() {
        return new Field(name, kind, words, usual, otherwise, example, required, true, conditions);
    }

    /** The same field with what holds where it is left out; nothing where that is empty. */
    public Field usually(String written) {
        return new Field(name, kind, words, written.isEmpty() ? Optional.empty() : Optional.of(written),
                otherwise, example, required, offered, conditions);
    }

    /** The same field with words for what holds where it is left out. */
    public Field otherwise(String held) {
        return new Field(name, kind, words, usual, Optional.of(held), example, required, offered, conditions);
    }

    /** The same field with another kind. */
    Field of(Kind other) {
        return new Field(name, other, words, usual, otherwise, example, required, offered, conditions);
    }

    /** The same field, which means something only where another field of its group says one of a few words. */
    public Field when(String other, String... says) {
        return under(List.of(new Condition(other, List.of(says))));
    }

    /** The same field, which means something only where other fields of its group are left out. */
    public Field without(String... others) {
        return under(Arrays.stream(others).map(other -> new Condition(other, List.of())).toList());
    }

    private Field under(List<Condition> more) {
        return new Field(name, kind, words, usual, otherwise, example, required, offered,
                Stream.concat(conditions.stream(), more.stream()).toList());
    }

    /** What it is and what holds where it is left out, for help and schema. */
    public String description() {
        return words + otherwise.map(held -> "; if left out, " + held).orElse("");
    }

    /** When it means something, to follow on what it is; empty where that is always. */
    public String where() {
        String says = conditions.stream().filter(one -> !one.says().isEmpty())
                .map(one -> "where " + one.field() + " is " + String.join(" or ", one.says()))
                .collect(Collectors.joining(" and "));
        String beside = conditions.stream().filter(one -> one.says().isEmpty()).map(Condition::field)
                .collect(Collectors.joining(" or "));
        return (says.isEmpty() ? "" : "; " + says) + (beside.isEmpty() ? "" : "; not beside " + beside);
    }

    /** The words that it may be, the usual one first; empty where it is no choice. */
    public List<String> options() {
        return kind instanceof Kind.Choice(List<String> options) ? options : List.of();
    }

    /** Whether it is a list of texts. */
    public boolean isList() {
        return kind instanceof Kind.Texts;
    }

    /** Whether it is written in one line: a text, a number, a time, a choice and the like. */
    public boolean isLine() {
        return switch (kind) {
            case Kind.Lines _,Kind.Texts _,Kind.Pairs _,Kind.One _,Kind.Many _,Kind.Named _,Kind.ListOr _ -> false;
            default -> true;
        };
    }
}
