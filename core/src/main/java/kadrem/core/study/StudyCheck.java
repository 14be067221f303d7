package kadrem.core.study;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import kadrem.core.gate.Credentials;
import kadrem.core.plan.Arrivals;
import kadrem.core.plan.Curve;
import kadrem.core.plan.Look;
import kadrem.core.plan.Rounds;

/** Checks that the parts of a study fit together; what can be seen from one field alone is checked by its reader. */
public final class StudyCheck {
    private static final Set<String> METHODS = Set.of("GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS");
    /** Names under which the latency log of a run has figures that belong to no call. */
    private static final Set<String> FIGURES = Set.of("lag", "late", "connect", "handshake");
    /** The protocol whose calls are programs, and its field with their words. */
    private static final String COMMAND = "command";
    private static final int MOST_CONNECTIONS = 20_000;
    private static final double MOST_RATE = 1_000_000;

    private final Study study;
    private final List<Problem> problems = new ArrayList<>();

    private StudyCheck(Study study) {
        this.study = study;
    }

    /** All problems of {@code study}, in the order of the file. */
    public static List<Problem> check(Study study) {
        var check = new StudyCheck(study);
        check.question();
        if (study.isElsewhere()) {
            check.candidates();
            return List.copyOf(check.problems);
        }
        check.candidates();
        check.workload();
        check.problems.addAll(ProtocolCheck.check(study));
        check.load();
        check.plan();
        return List.copyOf(check.problems);
    }

    private void question() {
        Question question = study.question();
        if (study.candidate(question.baseline()).isEmpty()) {
            error("question.baseline", "is \"" + question.baseline() + "\", which is not the id of a candidate",
                    "Use one of: " + candidateIds() + ".");
        }
        if (!(question.significance() > 0 && question.significance() < 0.5)) {
            error("question.significance", "is " + question.significance(), "Use a share such as 0.05.");
        }
        var seen = new HashSet<Metric>();
        for (int i = 0; i < question.deciders().size(); i++) {
            Question.Decider decider = question.deciders().get(i);
            String path = "question.decide[" + i + "]";
            if (!seen.add(decider.metric())) {
                error(path + ".metric", "names " + decider.metric().id() + " a second time", "Remove one of the two.");
            }
            if (!(decider.margin() >= 0 && decider.margin() <= 10)) {
                error(path + ".margin", "is " + decider.margin(), "Use a share such as 5%.");
            }
        }
        question.factors().forEach(factor -> factor.scores().keySet().stream()
                .filter(id -> study.candidate(id).isEmpty())
                .forEach(id -> problems.add(Problem.warning("question.judge",
                        "judges \"" + id + "\", which is not the id of a candidate",
                        "Use one of: " + candidateIds() + "."))));
        if (question.deciders().isEmpty()) {
            error("question.decide", "is empty", "Name at least one metric that decides, such as p99.");
        }
    }

    private void candidates() {
        if (study.candidates().isEmpty()) {
            error("candidates", "is empty", "Add at least one candidate.");
        }
        var ids = new HashSet<String>();
        for (int i = 0; i < study.candidates().size(); i++) {
            Candidate candidate = study.candidates().get(i);
            String path = "candidates[" + i + "]";
            if (study.isElsewhere()) {
                // nothing is named after it: it is as the figures have it
                if (!candidate.id().matches("[\\p{L}\\p{N}][\\p{L}\\p{N} ._+-]{0,59}")) {
                    error(path + ".id", "is \"" + candidate.id() + "\"",
                            "Use up to 60 letters, digits, spaces and . _ + -, as in the file with its figures.");
                }
            } else if (!candidate.id().matches("[a-z0-9][a-z0-9-]{0,39}")) {
                error(path + ".id", "is \"" + candidate.id() + "\"",
                        "Use up to 40 lower-case letters, digits and hyphens: it becomes part of folder names.");
            }
            if (!ids.add(candidate.id())) {
                error(path + ".id", "is \"" + candidate.id() + "\" a second time", "Give each candidate its own id.");
            }
            if (!candidate.address().isLoopback()) {
                problems.add(Problem.warning(path + ".address",
                        "is " + candidate.address() + ", which is not on this machine",
                        "It is loaded only after you have said that you may: kadrem allow "
                                + candidate.address().host()));
            }
            access(path, candidate.access());
            wire(path + ".wire", candidate);
            problems.addAll(WatchCheck.check(path + ".watch", candidate));
            if (candidate.reset().isPresent() && candidate.reset().get() instanceof Candidate.ControlSql sql) {
                reset(path + ".reset", sql);
            }
            if (candidate.data().isPresent() && candidate.data().get() instanceof Candidate.ControlSql sql) {
                reset(path + ".data", sql);
            }
            candidate.launch().ifPresent(launch -> arguments(path + ".launch.command", launch.command()));
            candidate.reset().ifPresent(reset -> arguments(path + ".reset", reset));
            candidate.data().ifPresent(data -> arguments(path + ".data", data));
            if (candidate.launch().isPresent() && candidate.launch().get().command().isEmpty()) {
                error(path + ".launch.command", "is empty", "Give the program and its arguments as a list.");
            }
        }
    }

    private void arguments(String path, Candidate.Reset control) {
        if (control instanceof Candidate.ControlCommand command) {
            arguments(path + ".command", command.command());
        }
    }

    /** Every user of a machine sees the arguments of all its processes. */
    private void arguments(String path, List<String> command) {
        boolean refers = command.stream().flatMap(word -> Call.placeholders(word).stream())
                .anyMatch(SecretReference::isOne);
        List<Credentials.Find> found = Credentials.in(String.join(" ", command));
        if (refers || !found.isEmpty()) {
            problems.add(Problem.warning(path, refers
                    ? "hands a secret over as an argument"
                    : "holds what looks like a secret: " + found.getFirst().what(),
                    "Every user of this machine can see the arguments of a process; hand it over by a file or the environment."));
        }
    }

    private void reset(String path, Candidate.ControlSql sql) {
        if (!sql.database().startsWith("jdbc:")) {
            error(path + ".database", "is \"" + sql.database() + "\"",
                    "Write a JDBC address, such as jdbc:postgresql://127.0.0.1/board.");
        }
        if (sql.database().toLowerCase(java.util.Locale.ROOT).contains("password=")
                || !sql.password().isEmpty()
                        && Call.placeholders(sql.password()).stream().noneMatch(SecretReference::isOne)) {
            error(path + ".password", "holds a secret itself",
                    "Write a reference instead: {{env:NAME}} for a variable of the environment, {{file:PATH}} for a file"
                            + " outside the study.");
        }
        if (sql.statements().isEmpty()) {
            error(path + ".sql", "is empty", "Give the statements as a list.");
        }
    }

    private void wire(String path, Candidate candidate) {
        Wire wire = candidate.access().wire();
        boolean second = wire.protocol() == Wire.Protocol.HTTP_2;
        range(path + (second ? ".streams" : ".pipelined"), wire.depth(), 1, 1000);
        range(path + ".redirects", wire.redirects(), 0, 50);
        if (!(wire.traced() >= 0 && wire.traced() <= 1)) {
            error(path + ".trace", "is " + wire.traced(), "Use a share such as 1%.");
        }
        if (wire.depth() > 1 && wire.reuse() != Wire.Reuse.KEEP) {
            error(path + ".connections", "is " + wire.reuse().id() + ", but several calls share a connection",
                    "Use keep, or one call at a time.");
        }
        for (String coding : wire.accepted()) {
            if (!Set.of("gzip", "deflate", "br", "zstd", "identity").contains(coding)) {
                error(path + ".accept", "names \"" + coding + "\"", "Use gzip, deflate, br, zstd or identity.");
            }
        }
        if (wire.socket().isPresent() && candidate.address().secure()) {
            error(path + ".socket", "is there, but the address is https", "Use an http address with a Unix socket.");
        }
        if (wire.socket().isPresent() && !candidate.address().isLoopback()) {
            error(path + ".socket", "is there, but the address is on another host",
                    "Use an address such as http://localhost; it gives the Host header.");
        }
    }

    private void access(String path, Access access) {
        for (String secret : access.signIn().secrets()) {
            if (Call.placeholders(secret).stream().noneMatch(SecretReference::isOne)) {
                error(path + ".signIn", "holds a secret itself",
                        "Write a reference instead: {{env:NAME}} for a variable of the environment, {{file:PATH}} for a file"
                                + " outside the study.");
            }
        }
        if (access.tls().certificate().isPresent() != access.tls().key().isPresent()) {
            error(path + ".tls", "names only one of certificate and key", "Name both, or none.");
        }
    }

    private void workload() {
        Workload workload = study.workload();
        Set<String> lists = workload.values().stream().map(ValueList::name).collect(Collectors.toSet());
        if (lists.size() < workload.values().size()) {
            error("workload.values", "has two lists of one name", "Give each value list its own name.");
        }
        for (int i = 0; i < workload.values().size(); i++) {
            list("workload.values[" + i + "]", workload.values().get(i));
        }
        if (workload.visits().isEmpty()) {
            error("workload.visits", "is empty", "Add at least one visit with one call.");
        }
        var names = new HashSet<String>();
        var known = new HashSet<>(lists);
        for (int c = 0; c < workload.first().size(); c++) {
            call("workload.first[" + c + "]", workload.first().get(c), known, lists, names);
        }
        for (int v = 0; v < workload.visits().size(); v++) {
            Visit visit = workload.visits().get(v);
            String path = "workload.visits[" + v + "]";
            if (!(visit.share() > 0)) {
                error(path + ".share", "is " + visit.share(), "Use a number above 0, or remove the visit.");
            }
            range(path + ".repeat", visit.repeat(), 1, 10_000);
            if (visit.calls().isEmpty()) {
                error(path + ".calls", "is empty", "Add a call, or remove the visit.");
            }
            var knownHere = new HashSet<>(known);
            for (int c = 0; c < visit.calls().size(); c++) {
                String at = path + ".calls[" + c + "]";
                call(at, visit.calls().get(c), knownHere, lists, names);
                warnWhereNothingVaries(at, visit.calls().get(c));
            }
        }
    }

    private void list(String path, ValueList list) {
        if (list.size() < 1) {
            error(path, "has no rows", "Give it at least one value.");
            return;
        }
        if (list instanceof ValueList.Zipf zipf) {
            if (zipf.size() > ValueList.Zipf.MOST) {
                error(path, "has " + zipf.size() + " numbers", "Use at most " + ValueList.Zipf.MOST + ".");
            }
            if (!(zipf.exponent() > 0 && zipf.exponent() <= 10)) {
                error(path + ".exponent", "is " + zipf.exponent(), "Use a number above 0 and up to 10, such as 1.1.");
            }
        }
        if (list instanceof ValueList.Text text) {
            range(path + ".length", text.length(), 1, 10_000);
        }
        if (list.draw().keep() == ValueList.Keep.CALL && list.draw().order() != ValueList.Order.RANDOM) {
            error(path + ".keep", "is call, but the rows come in an order",
                    "Only lists drawn at random can be drawn anew for each call.");
        }
        warnWhereShort(path, list);
    }

    private void warnWhereShort(String path, ValueList list) {
        if (list.draw().order() == ValueList.Order.PER_USER && study.load() instanceof LoadProfile.Closed closed
                && closed.users() > list.size()) {
            problems.add(Problem.warning(path, "has " + list.size() + " rows for " + closed.users() + " users",
                    "Some users share a row; lengthen the list, or accept it."));
        }
        boolean ordered = list.draw().order() == ValueList.Order.SEQUENTIAL
                || list.draw().order() == ValueList.Order.PER_USER && study.load() instanceof LoadProfile.Open;
        if (ordered && study.load() instanceof LoadProfile.Open open) {
            double visits = Curve.of(open).area();
            if (visits > list.size()) {
                problems.add(Problem.warning(path,
                        "has " + list.size() + " rows for " + Math.round(visits) + " visits of a run",
                        "After the last row it begins again from the first; lengthen it, or accept it."));
            }
        }
    }

    private void warnWhereNothingVaries(String path, Call call) {
        boolean constant = call.placeholders().stream().allMatch(SecretReference::isOne);
        if (constant && call.method().equals("GET") && ProtocolCheck.asksHttp(study)
                && !study.workload().values().isEmpty()) {
            problems.add(Problem.warning(path, "(" + call.name() + ") never varies: every user asks for the same",
                    "A cache may answer it; use a {{placeholder}}, or accept it."));
        }
    }

    /** @param known lists and what was captured so far; what this call captures is added */
    private void call(String path, Call call, Set<String> known, Set<String> lists, Set<String> names) {
        if (!call.name().matches("[A-Za-z0-9][A-Za-z0-9._-]{0,59}")) {
            error(path + ".name", "is \"" + call.name() + "\"",
                    "Use letters, digits, dots, hyphens and underscores: it becomes a tag in the latency log.");
        }
        if (FIGURES.contains(call.name())) {
            error(path + ".name", "is \"" + call.name() + "\", which names a figure of the generator",
                    "Use another name, such as " + call.name() + "-call.");
        }
        if (!names.add(call.name())) {
            error(path + ".name", "is \"" + call.name() + "\" a second time", "Give each call its own name.");
        }
        if (ProtocolCheck.asksHttp(study)) {
            http(path, call);
        }
        for (String name : call.placeholders()) {
            if (!known.contains(name) && !SecretReference.isOne(name)) {
                error(path, "uses {{" + name + "}}, but no value list has that name and no earlier call captures it",
                        "Add it to workload.values" + (known.isEmpty()
                                ? "."
                                : ", or use one of "
                                        + known.stream().sorted().toList() + "."));
            }
        }
        secrets(path, call);
        call.timeout().filter(timeout -> timeout.toMillis() < 1 || timeout.toMinutes() > 10).ifPresent(
                timeout -> error(path + ".timeout", "is " + timeout.toMillis() + " ms", "Use between 1ms and 10min."));
        expectations(path + ".expect", call.expected());
        captures(path, call.captures(), known, lists);
        for (Form form : call.forms()) {
            form.expected().ifPresent(expected -> expectations(path + "." + form.protocol() + ".expect", expected));
            captures(path + "." + form.protocol(), form.captures().orElse(List.of()), known, lists);
        }
    }

    /** A study is passed on, with all that is written in it. */
    private void secrets(String path, Call call) {
        Stream.concat(Stream.concat(Stream.of(call.path()), call.body().templates().stream()),
                Stream.concat(
                        call.headers().stream().map(header -> header.name() + ": " + header.value()),
                        call.forms().stream().filter(form -> !form.protocol().equals(COMMAND))
                                .flatMap(form -> form.fields().values().stream()).flatMap(List::stream)))
                .flatMap(text -> Credentials.in(text).stream()).map(Credentials.Find::what).distinct()
                .forEach(what -> problems.add(Problem.warning(path, "holds what looks like a secret: " + what,
                        "Whoever has the study has it too. Write a reference instead: {{env:NAME}} or {{file:PATH}}.")));
        call.form(COMMAND).map(form -> form.fields().getOrDefault(COMMAND, List.of()))
                .ifPresent(words -> arguments(path + "." + COMMAND, words));
    }

    /** What a call must have that some candidate is asked over HTTP. */
    private void http(String path, Call call) {
        if (!METHODS.contains(call.method())) {
            error(path + ".method", "is \"" + call.method() + "\"",
                    "Use one of " + METHODS.stream().sorted().collect(Collectors.joining(", ")) + ".");
        }
        if (!call.path().startsWith("/")) {
            error(path + ".path", "is \"" + call.path() + "\"", "Begin it with a slash.");
        }
        if (call.path().chars().anyMatch(c -> c <= ' ' || c > '~')) {
            error(path + ".path", "holds a character that may not stand in an address",
                    "Write it percent-encoded (RFC 3986).");
        }
    }

    private void captures(String path, List<Capture> captures, Set<String> known, Set<String> lists) {
        for (Capture capture : captures) {
            if (!capture.name().matches("[A-Za-z][A-Za-z0-9_-]{0,39}")) {
                error(path + ".capture", "has the name \"" + capture.name() + "\"",
                        "Use a letter, then letters, digits, hyphens and underscores.");
            }
            if (lists.contains(capture.name())) {
                error(path + ".capture", "captures " + capture.name() + ", which is the name of a value list",
                        "Give one of the two another name.");
            }
            if (capture.source() instanceof Capture.Source.Pattern(String regex)) {
                pattern(path + ".capture", regex);
            }
            known.add(capture.name());
        }
    }

    private void expectations(String path, Expectations expected) {
        for (Expectations.Expectation one : expected.content()) {
            switch (one) {
                case Expectations.Expectation.BodyMatches(String regex) -> pattern(path, regex);
                case Expectations.Expectation.Size(long least, long most) when least < 0 || most < least ->
                    error(path + ".size", "is from " + least + " to " + most,
                            "Use least and most, such as 10 and 5000.");
                case Expectations.Expectation.Hash(String hash) when !hash.matches("[0-9a-fA-F]{8,64}") ->
                    error(path + ".sha256", "is \"" + hash + "\"",
                            "Use 8 to 64 hexadecimal digits, as a rehearsal shows"
                                    + " them.");
                default -> {
                }
            }
        }
    }

    private void pattern(String path, String regex) {
        try {
            Pattern.compile(regex);
        } catch (PatternSyntaxException cause) {
            error(path, "holds a regular expression that cannot be read: " + cause.getDescription() + " in " + regex,
                    "Mend the expression. It takes a time in proportion to the text, so it can neither look ahead or behind"
                            + " nor refer back.");
        }
    }

    private void load() {
        LoadProfile load = study.load();
        wholeSeconds("load.warmUp", load.warmUp(), 0, 3600);
        wholeSeconds("load.measured", load.measured(), 1, 24 * 3600);
        wholeSeconds("load.windDown", load.course().windDown(), 0, 3600);
        if (load.timeout().toMillis() < 1 || load.timeout().toMinutes() > 10) {
            error("load.timeout", "is " + load.timeout().toMillis() + " ms", "Use between 1ms and 10min.");
        }
        boolean open = load instanceof LoadProfile.Open;
        segments(load.shape(), open ? MOST_RATE : MOST_CONNECTIONS);
        course(load, open);
        double first = load.course().warmUpLevel().orElse(load.shape().first());
        if (first == 0 && load.warmUp().isPositive()) {
            problems.add(Problem.warning("load.warmUp", "sends nothing, since the measured part begins at 0",
                    "Give warmUpLevel, or a warm-up of 0s."));
        }
        switch (load) {
            case LoadProfile.Closed closed -> {
                range(closed.shape().isFlat() ? "load.users" : "load.segments", closed.users(), 1, MOST_CONNECTIONS);
                if (closed.thinkTime().mean().toMinutes() > 60) {
                    error("load.thinkTime", "is over an hour", "Use a shorter pause.");
                }
                closed.pace().filter(pace -> pace.toMillis() < 1 || pace.toMinutes() > 60).ifPresent(
                        pace -> error("load.pace", "is " + pace.toMillis() + " ms", "Use between 1ms and 60min."));
            }
            case LoadProfile.Open arrivals -> {
                if (!(arrivals.arrivalsPerSecond() > 0 && arrivals.arrivalsPerSecond() <= MOST_RATE)) {
                    error("load.arrivalsPerSecond", "is " + arrivals.arrivalsPerSecond(),
                            "Use a rate above 0 and up to 1000000.");
                }
                double number = Curve.of(load).area();
                if (arrivals.spacing() == LoadProfile.Spacing.POISSON && number > Arrivals.Poisson.MOST) {
                    error("load.spacing", "is poisson for " + (long) number + " arrivals",
                            "Use constant spacing, or at most " + Arrivals.Poisson.MOST + " arrivals in a run.");
                }
                range("load.connections", arrivals.connections(), 1, MOST_CONNECTIONS);
                if (arrivals.connections() > 0) {
                    range("load.connectionLimit", arrivals.connectionLimit(), 1, MOST_CONNECTIONS);
                }
            }
        }
    }

    private void segments(Shape shape, double most) {
        for (int i = 0; i < shape.segments().size(); i++) {
            Segment segment = shape.segments().get(i);
            String path = shape.isFlat() ? "load" : "load.segments[" + i + "]";
            if (!shape.isFlat() && !segment.length().isPositive()) {
                error(path + "." + segment.kind().id(), "takes no time", "Give it a length, such as 30s.");
            }
            if (!(segment.level() >= 0 && segment.level() <= most)) {
                error(path, "has the level " + segment.level(), "Use 0 to " + (long) most + ".");
            }
            range(path + ".stairs", segment.stairs(), 1, 1000);
        }
    }

    private void course(LoadProfile load, boolean open) {
        Course course = load.course();
        course.warmUpLevel().ifPresent(level -> {
            if (!(level >= 0 && level <= (open ? MOST_RATE : MOST_CONNECTIONS))) {
                error("load.warmUpLevel", "is " + level, "Use a level such as that of the measured part.");
            }
        });
        course.visits().ifPresent(visits -> {
            if (visits < 1) {
                error("load.visits", "is " + visits, "Use at least 1.");
            }
            if (!load.shape().isFlat()) {
                error("load.visits", "stands beside segments", "A number of visits needs one level for all of them.");
            }
        });
        course.search().ifPresent(search -> search(search, load, open));
        for (int i = 0; i < course.stopRules().size(); i++) {
            StopRule rule = course.stopRules().get(i);
            wholeSeconds("load.stopWhen[" + i + "].for", rule.longFor(), 1, 3600);
            if (!(rule.limit() >= 0)) {
                error("load.stopWhen[" + i + "].over", "is " + rule.limit(), "Use a limit of 0 or more.");
            }
        }
    }

    private void search(LevelSearch search, LoadProfile load, boolean open) {
        String path = search instanceof LevelSearch.Ladder ? "load.ladder" : "load.ceiling";
        double most = open ? MOST_RATE : MOST_CONNECTIONS;
        if (!load.shape().isFlat() || load.course().visits().isPresent()) {
            error(path, "stands beside segments or a number of visits",
                    "Each level is held for the time that measured says; remove the others.");
        }
        range(path + ".most", search.most(), 2, 100);
        if (!(search.from() > 0 && search.from() <= most)) {
            error(path + ".from", "is " + search.from(), "Use a level above 0 and up to " + (long) most + ".");
        }
        switch (search) {
            case LevelSearch.Ladder ladder -> {
                if (!(ladder.after(ladder.from()) > ladder.from())) {
                    error(path, "does not rise", "Use a factor above 1, or by with a number above 0.");
                }
                double last = ladder.from();
                for (int i = 1; i < Math.min(100, ladder.most()); i++) {
                    last = ladder.after(last);
                }
                if (last > most) {
                    error(path + ".most", "is " + ladder.most() + ", with which it would reach " + (long) last,
                            "Use fewer levels; at most " + (long) most + " can be made.");
                }
            }
            case LevelSearch.Ceiling ceiling -> {
                if (!open) {
                    error(path, "searches an arrival rate, but the model is closed", "Use model: open, or a ladder.");
                }
                if (!(ceiling.to() > ceiling.from() && ceiling.to() <= most)) {
                    error(path + ".to", "is " + ceiling.to(), "Use a rate above from and up to " + (long) most + ".");
                }
                if (!(ceiling.precision() > 0 && ceiling.precision() < 1)) {
                    error(path + ".precision", "is " + ceiling.precision(), "Use a share such as 5%.");
                }
                if (study.question().requirements().isEmpty()) {
                    error(path, "has nothing that a rate must meet",
                            "Add question.require, such as {metric: p99, limit: 100ms}.");
                }
            }
        }
    }

    private void plan() {
        List<String> hosts = study.candidates().stream().map(one -> one.address().host()).toList();
        if (study.plan().together() && hosts.stream().distinct().count() < hosts.size()) {
            problems.add(Problem.warning("plan.order", "is together, but candidates share a host",
                    "Each takes processor time from the other; use in-turn, or put them on separate hosts."));
        }
        range("plan.rounds", study.plan().rounds(), 1, 1000);
        study.plan().adaptive().ifPresent(most -> range("plan.adaptive.atMost", most, 1, 1000));
        int items = study.items();
        int needed = Rounds.neededToSettle(items, Look.ofEnd(study.question().significance()));
        if (items > 0 && !study.plan().isAdaptive() && study.plan().rounds() < needed) {
            problems.add(Problem.warning("plan.rounds",
                    "is " + study.plan().rounds() + ", which cannot settle anything: " + items
                            + (items == 1 ? " thing" : " things") + " to be shown at a significance of "
                            + study.question().significance() + " need "
                            + needed + " rounds",
                    "Plan at least " + needed + " rounds, or decide on fewer metrics."));
        }
    }

    private void wholeSeconds(String path, Duration value, long least, long most) {
        if (value.toNanosPart() != 0) {
            error(path, "is " + value.toMillis() + " ms", "Use whole seconds, such as 5s.");
        }
        range(path, value.toSeconds(), least, most);
    }

    private void range(String path, long value, long least, long most) {
        if (value < least || value > most) {
            error(path, "is " + value, "Use a number from " + least + " to " + most + ".");
        }
    }

    private String candidateIds() {
        return study.candidates().stream().map(Candidate::id).collect(Collectors.joining(", "));
    }

    private void error(String path, String what, String mend) {
        problems.add(Problem.error(path, what, mend));
    }
}
