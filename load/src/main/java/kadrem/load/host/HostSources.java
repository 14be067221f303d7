package kadrem.load.host;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalLong;
import java.util.function.Supplier;

import kadrem.core.study.Candidate;
import kadrem.core.study.WatchSource;
import kadrem.load.drive.Secrets;
import kadrem.load.host.counters.DatabaseCounters;
import kadrem.load.host.counters.MetricsEndpoint;
import kadrem.load.host.local.ControlGroup;
import kadrem.load.host.local.JavaMachine;
import kadrem.load.host.local.OwnHost;
import kadrem.load.host.local.ProcessTree;
import kadrem.load.host.remote.HostKeys;
import kadrem.load.host.remote.SshHost;

/**
 * What there is to watch for a candidate.
 *
 * @param folder folder of the study, to which file names in it are relative
 * @param launched process that Kadrem launched, as it is now; empty where there is none
 */
public record HostSources(Path folder, Secrets secrets, HostKeys keys, Supplier<OptionalLong> launched) {
    /** Name of the source that tells of the process that was launched. */
    public static final String CANDIDATE = "candidate";

    /** This host, the launched process, and what the study names. */
    public List<Watching.Source> of(Candidate candidate) {
        var sources = new ArrayList<Watching.Source>();
        sources.add(new Watching.Source(OwnHost.NAME, "host", "this host", OwnHost::new));
        if (candidate.launch().isPresent()) {
            sources.add(new Watching.Source(CANDIDATE, "process", "the launched process", () -> ProcessTree
                    .of(CANDIDATE,
                            launched.get().orElseThrow(() -> new SourceFailure("the candidate is not running")))));
        }
        candidate.watch().forEach(source -> sources.add(of(source)));
        return List.copyOf(sources);
    }

    /** One source that a study names. */
    public Watching.Source of(WatchSource source) {
        return new Watching.Source(source.name(), source.kind(), source.where(), switch (source) {
            case WatchSource.ProcessTree tree -> () -> ProcessTree.of(tree.name(), tree.which(), folder);
            case WatchSource.ControlGroup group -> () -> ControlGroup.of(group.name(), group.folder());
            case WatchSource.JavaMachine machine -> () -> machine.address().isPresent()
                    ? JavaMachine.at(machine.name(), machine.address().get())
                    : JavaMachine.attached(machine.name(), launched.get());
            case WatchSource.RemoteHost remote -> () -> SshHost.open(remote, secrets, keys);
            case WatchSource.MetricsEndpoint endpoint -> () -> MetricsEndpoint.open(endpoint);
            case WatchSource.Counters counters -> () -> DatabaseCounters.open(counters, secrets);
        });
    }
}
