package kadrem.load.host;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

import kadrem.core.study.Written;
import oshi.SystemInfo;

/** What this machine is, for the record of a run. */
public final class Machine {
    private Machine() {
    }

    /** Attributes in the order in which they are shown. No name and no address of the machine is among them. */
    public static Map<String, String> describe() {
        var system = new SystemInfo();
        var processor = system.getHardware().getProcessor();
        var attributes = new LinkedHashMap<String, String>();
        attributes.put("os", system.getOperatingSystem().toString());
        attributes.put("kernel", System.getProperty("os.name") + " " + System.getProperty("os.version"));
        attributes.put("architecture", System.getProperty("os.arch"));
        attributes.put("cpu", processor.getProcessorIdentifier().getName().replaceFirst("\\s*@.*$", "").strip());
        long megahertz = processor.getProcessorIdentifier().getVendorFreq() / 1_000_000;
        if (megahertz > 0) {
            attributes.put("cpu-megahertz", Long.toString(megahertz));
        }
        attributes.put("processors", Integer.toString(processor.getLogicalProcessorCount()));
        governor().ifPresent(governor -> attributes.put("cpu-governor", governor));
        attributes.put("memory", Written.bytes(system.getHardware().getMemory().getTotal()));
        boot().ifPresent(boot -> attributes.put("boot", boot));
        attributes.put("kadrem-jvm", System.getProperty("java.vm.name") + " " + Runtime.version());
        return attributes;
    }

    /** A short word that is another after each start of the system, and says nothing else of it; empty where it does not tell. */
    private static Optional<String> boot() {
        Path file = Path.of("/proc/sys/kernel/random/boot_id");
        try {
            return Files.isReadable(file)
                    ? Optional.of(Integer.toHexString(Files.readString(file).strip().hashCode()))
                    : Optional.empty();
        } catch (IOException _) {
            return Optional.empty();
        }
    }

    /** How the system chooses the processors' speed; empty where it does not tell. */
    private static Optional<String> governor() {
        Path file = Path.of("/sys/devices/system/cpu/cpu0/cpufreq/scaling_governor");
        try {
            return Files.isReadable(file) ? Optional.of(Files.readString(file).strip()) : Optional.empty();
        } catch (IOException _) {
            return Optional.empty();
        }
    }
}
