package kadrem.files.imports.log;

/**
 * What one line of a log says of an arrival. Who asked, and with what, is not read.
 *
 * @param at when it came
 * @param method of HTTP; empty where the line says nothing but when
 * @param target path and question; empty likewise
 * @param status of the answer; 0 where it is not told
 */
record LogLine(LogTime at, String method, String target, int status) {
    static LogLine instant(LogTime at) {
        return new LogLine(at, "", "", 0);
    }

    boolean isCall() {
        return !target.isEmpty();
    }
}
