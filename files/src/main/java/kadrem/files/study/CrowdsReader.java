package kadrem.files.study;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalLong;

import kadrem.core.study.Course;
import kadrem.core.study.Crowd;
import kadrem.core.study.Crowds;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.Segment;
import kadrem.core.study.Shape;
import kadrem.core.study.StopRule;
import kadrem.core.study.Workload;

/** From the crowds of a load to one time axis: each is at 0 until it comes, and again when it is gone. */
final class CrowdsReader {
    private final Fields load;
    private final List<StopRule> stopRules;
    private final Workload workload;
    private final FileContents files;

    CrowdsReader(Fields load, List<StopRule> stopRules, Workload workload, FileContents files) {
        this.load = load;
        this.stopRules = stopRules;
        this.workload = workload;
        this.files = files;
    }

    /** A crowd as it is written. */
    private record Said(Fields fields, Duration start, ShapeReader.OverTime own) {
        Duration end() {
            return start.plus(own.shape().length());
        }
    }

    Crowds read(List<Fields> groups) {
        List<Said> said = groups.stream().map(group -> new Said(group, group.time("start"),
                new ShapeReader(group, LoadReader.isOpen(group), workload, files).read(OptionalLong.empty()))).toList();
        Duration whole = said.stream().map(Said::end).max(Duration::compareTo).orElseThrow();
        return new Crowds(said.stream().map(one -> crowd(one, whole)).toList(), course(OptionalDouble.empty()));
    }

    private Course course(OptionalDouble warmUpLevel) {
        return new Course(load.time("warmUp"), warmUpLevel, load.time("windDown"), OptionalLong.empty(),
                load.time("timeout"), Optional.empty(), stopRules);
    }

    private Crowd crowd(Said said, Duration whole) {
        Fields fields = said.fields();
        var over = new ShapeReader.OverTime(placed(said, whole), said.own().timeline());
        boolean fromTheStart = said.start().isZero() || fields.has("warmUpLevel");
        LoadProfile.Single placed = LoadReader.single(fields, over,
                course(fromTheStart ? LoadReader.warmUpLevel(fields, said.own()) : OptionalDouble.empty()));
        return new Crowd(fields.text("name"), fields.texts("makes"),
                fields.has("first") ? Optional.of(fields.texts("first")) : Optional.empty(), said.start(),
                said.own().shape(), placed);
    }

    /** The crowd's own shape on the axis of the run. */
    private static Shape placed(Said said, Duration whole) {
        Shape own = said.own().shape();
        var segments = new ArrayList<Segment>();
        if (said.start().isPositive()) {
            segments.add(Segment.hold(said.start(), 0));
        }
        segments.addAll(own.segments());
        if (said.end().compareTo(whole) < 0) {
            segments.add(Segment.hold(whole.minus(said.end()), 0));
        }
        return segments.size() == own.segments().size() ? own : new Shape(segments, own.table());
    }
}
