package kadrem.standins.berths;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.LinkedBlockingQueue;

/**
 * The board in memory: a list of stays for each berth and a set of taken berths for each day. New stays are written to a
 * database behind the answer, in batches, by a thread of their own. One thread asks, the event loop's.
 */
final class CachedBoard implements Board, AutoCloseable {
    private static final Comparator<Reservation> BY_DAY = Comparator.comparingInt(Reservation::day);

    private final List<Berth> berths = SeedData.berths();
    private final List<Reservation> seed = SeedData.reservations();
    private final List<List<Reservation>> stays = new ArrayList<>();
    private final java.util.Map<Integer, BitSet> takenByDay = new java.util.HashMap<>();
    private final BlockingQueue<Write> writes = new LinkedBlockingQueue<>();
    private final Thread writer;
    private long nextId;

    private sealed interface Write {
        record Stay(Reservation reservation) implements Write {
        }

        record Reset(CompletableFuture<Void> done) implements Write {
        }

        record End() implements Write {
        }
    }

    CachedBoard() {
        load();
        writer = Thread.ofPlatform().name("write-behind").daemon().start(this::write);
    }

    private void load() {
        stays.clear();
        takenByDay.clear();
        berths.forEach(_ -> stays.add(new ArrayList<>()));
        seed.forEach(this::put);
        nextId = seed.size() + 1L;
    }

    private void put(Reservation reservation) {
        List<Reservation> ofBerth = stays.get(reservation.berth() - 1);
        int at = ofBerth.size();
        while (at > 0 && BY_DAY.compare(ofBerth.get(at - 1), reservation) > 0) {
            at--;
        }
        ofBerth.add(at, reservation);
        for (int day = reservation.day(); day < reservation.day() + reservation.nights(); day++) {
            takenByDay.computeIfAbsent(day, _ -> new BitSet(berths.size())).set(reservation.berth() - 1);
        }
    }

    @Override
    public DayView day(int day) {
        BitSet taken = takenByDay.getOrDefault(day, new BitSet());
        var free = new ArrayList<Berth>(LISTED);
        // berths are numbered in the order of quay and number
        for (int i = taken.nextClearBit(0); i < berths.size() && free.size() < LISTED; i = taken.nextClearBit(i + 1)) {
            free.add(berths.get(i));
        }
        return new DayView(day, berths.size() - taken.cardinality(), taken.cardinality(), free);
    }

    @Override
    public Optional<BerthView> berth(int id) {
        return id < 1 || id > berths.size()
                ? Optional.empty()
                : Optional.of(new BerthView(berths.get(id - 1), List.copyOf(stays.get(id - 1))));
    }

    @Override
    public OptionalLong reserve(Reservation wanted) {
        if (stays.get(wanted.berth() - 1).stream().anyMatch(wanted::overlaps)) {
            return OptionalLong.empty();
        }
        var booked = new Reservation(nextId++, wanted.berth(), wanted.day(), wanted.nights(), wanted.vessel());
        put(booked);
        writes.add(new Write.Stay(booked));
        return OptionalLong.of(booked.id());
    }

    @Override
    public void reset() {
        load();
        var done = new CompletableFuture<Void>();
        writes.add(new Write.Reset(done));
        done.join();
    }

    /** The database is made by its writer, so that answers need not wait for it. */
    private void write() {
        try (var behind = new SqlBoard(1)) {
            writeTo(behind);
        }
    }

    private void writeTo(SqlBoard behind) {
        var batch = new ArrayList<Write>();
        while (true) {
            batch.clear();
            try {
                batch.add(writes.take());
            } catch (InterruptedException _) {
                return;
            }
            writes.drainTo(batch, 500);
            var stays = new ArrayList<Reservation>();
            for (Write write : batch) {
                switch (write) {
                    case Write.Stay(Reservation reservation) -> stays.add(reservation);
                    case Write.Reset(CompletableFuture<Void> done) -> {
                        stays.clear();
                        behind.reset();
                        done.complete(null);
                    }
                    case Write.End() -> {
                        behind.append(stays);
                        return;
                    }
                }
            }
            behind.append(stays);
        }
    }

    @Override
    public void close() {
        writes.add(new Write.End());
        try {
            writer.join();
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
    }
}
