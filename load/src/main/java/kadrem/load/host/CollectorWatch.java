package kadrem.load.host;

import java.lang.management.GarbageCollectorMXBean;
import java.lang.management.ManagementFactory;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

import javax.management.ListenerNotFoundException;
import javax.management.NotificationEmitter;
import javax.management.NotificationListener;
import javax.management.openmbean.CompositeData;

import com.sun.management.GarbageCollectionNotificationInfo;
import kadrem.core.measure.Latency;
import kadrem.core.measure.LatencySummary;
import org.HdrHistogram.Histogram;

/** Records each pause that this process's garbage collector makes, from its creation until it is closed. */
public final class CollectorWatch implements AutoCloseable {
    private final Histogram pauses = Latency.forRun();
    private final List<NotificationEmitter> emitters = new ArrayList<>();
    private final NotificationListener listener = (notification, _) -> {
        if (notification.getType().equals(GarbageCollectionNotificationInfo.GARBAGE_COLLECTION_NOTIFICATION)) {
            var info = GarbageCollectionNotificationInfo.from((CompositeData) notification.getUserData());
            if (isOfPauses(info.getGcName())) {
                record(TimeUnit.MILLISECONDS.toNanos(info.getGcInfo().getDuration()));
            }
        }
    };

    /** Whether a bean tells of pauses; those of concurrent collectors tell of cycles, in which the program goes on, apart. */
    public static boolean isOfPauses(String bean) {
        return !bean.contains("Cycles") && !bean.contains("Concurrent");
    }

    public CollectorWatch() {
        for (GarbageCollectorMXBean bean : ManagementFactory.getGarbageCollectorMXBeans()) {
            if (bean instanceof NotificationEmitter emitter) {
                emitter.addNotificationListener(listener, null, null);
                emitters.add(emitter);
            }
        }
    }

    private synchronized void record(long nanos) {
        pauses.recordValue(Math.max(1000, nanos));
    }

    /** The pauses so far; the virtual machine tells them in whole milliseconds. */
    public synchronized LatencySummary pauses() {
        return LatencySummary.of(pauses);
    }

    @Override
    public void close() {
        for (NotificationEmitter emitter : emitters) {
            try {
                emitter.removeNotificationListener(listener);
            } catch (ListenerNotFoundException _) {
                // it was added by nobody else
            }
        }
    }
}
