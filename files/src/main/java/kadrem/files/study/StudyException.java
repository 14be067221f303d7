package kadrem.files.study;

import java.nio.file.Path;
import java.util.List;
import java.util.stream.Collectors;

/** A study cannot be used; the message says where, what and how to mend it, a line for each problem. */
public final class StudyException extends Exception {
    private static final long serialVersionUID = 1L;
    private final transient List<Located> problems;

    /** A problem with the line of the file where it stands. */
    public record Located(int line, kadrem.core.study.Problem problem) {
        @Override
        public String toString() {
            return "line " + line + ": " + problem.path() + (problem.path().isEmpty() ? "" : " ") + problem.what()
                    + (problem.what().endsWith(".") ? " " : ". ") + problem.mend();
        }
    }

    StudyException(Path file, List<Located> problems) {
        super(problems.stream().map(problem -> file + ", " + problem).collect(Collectors.joining("\n")));
        this.problems = List.copyOf(problems);
    }

    public StudyException(String message) {
        super(message);
        problems = List.of();
    }

    /** The first problem in a sentence, without the line of the file. */
    public String words(boolean withPath) {
        return problems.isEmpty()
                ? String.valueOf(getMessage())
                : (withPath ? problems.getFirst().problem().path() + " " : "") + problems.getFirst().problem().what()
                        + ". " + problems.getFirst().problem().mend();
    }

    public List<Located> problems() {
        return problems;
    }
}
