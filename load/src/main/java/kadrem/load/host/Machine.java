package kadrem.load.host;

import java.util.LinkedHashMap;
import java.util.Map;

import kadrem.core.verdict.Wording;
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
        attributes.put("cpu-megahertz", Long.toString(processor.getProcessorIdentifier().getVendorFreq() / 1_000_000));
        attributes.put("processors", Integer.toString(processor.getLogicalProcessorCount()));
        attributes.put("memory", Wording.bytes(system.getHardware().getMemory().getTotal()));
        attributes.put("kadrem-jvm", System.getProperty("java.vm.name") + " " + Runtime.version());
        return attributes;
    }
}
