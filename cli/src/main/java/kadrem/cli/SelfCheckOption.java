package kadrem.cli;

import kadrem.work.Measurement.SelfChecking;
import picocli.CommandLine.Option;

/** The option of all commands that measure. */
final class SelfCheckOption {
    @Option(names = "--no-self-check", description = "do not find out first what load this machine can make, which takes up to 10 s; the generator is warmed up all the same")
    private boolean leftOut;

    SelfChecking wanted() {
        return leftOut ? new SelfChecking.LeftOut() : new SelfChecking.Before();
    }
}
