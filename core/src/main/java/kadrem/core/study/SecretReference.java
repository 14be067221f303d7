package kadrem.core.study;

/**
 * A placeholder that stands for a secret kept outside the study: {@code {{env:NAME}}} for a variable of the environment,
 * {@code {{file:PATH}}} for the first line of a file.
 */
public record SecretReference(Kind kind, String where) {
    /** Where the secret is kept. */
    public enum Kind {
        ENVIRONMENT, FILE
    }

    /** Whether the text between the braces of a placeholder is such a reference. */
    public static boolean isOne(String placeholder) {
        return placeholder.startsWith("env:") || placeholder.startsWith("file:");
    }

    /**
     * The reference that a placeholder's text means.
     *
     * @throws IllegalArgumentException if it is none
     */
    public static SecretReference parse(String placeholder) {
        if (!isOne(placeholder)) {
            throw new IllegalArgumentException(placeholder + " is no reference to a secret");
        }
        int colon = placeholder.indexOf(':');
        return new SecretReference(placeholder.startsWith("env:") ? Kind.ENVIRONMENT : Kind.FILE,
                placeholder.substring(colon + 1).strip());
    }

    @Override
    public String toString() {
        return (kind == Kind.ENVIRONMENT ? "env:" : "file:") + where;
    }
}
