package kadrem.standins.berths;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;

/** The made-up harbour: 2,400 berths on eight quays and a year of reservations, always the same. */
final class SeedData {
    static final int FIRST_DAY = (int) LocalDate.of(2026, 1, 1).toEpochDay();
    static final int DAYS = 365;
    private static final List<String> QUAYS = List.of("Alder", "Birch", "Cedar", "Elm", "Hazel", "Larch", "Oak",
            "Rowan");
    private static final List<String> VESSELS = List.of("Tern", "Petrel", "Dunlin", "Curlew", "Avocet", "Plover",
            "Gannet", "Skua", "Fulmar", "Puffin");
    private static final int BERTHS_PER_QUAY = 300;

    private SeedData() {
    }

    static List<Berth> berths() {
        var random = new SplittableRandom(20_260_101);
        var berths = new ArrayList<Berth>();
        for (String quay : QUAYS) {
            for (int number = 1; number <= BERTHS_PER_QUAY; number++) {
                berths.add(new Berth(berths.size() + 1, quay, number, random.nextInt(6, 31), random.nextInt(15, 61)));
            }
        }
        return List.copyOf(berths);
    }

    /** Stays of 1 to 9 nights at each berth with gaps between them, about 29,000 in all, numbered from 1. */
    static List<Reservation> reservations() {
        var random = new SplittableRandom(20_260_102);
        var reservations = new ArrayList<Reservation>();
        for (int berth = 1; berth <= QUAYS.size() * BERTHS_PER_QUAY; berth++) {
            int day = random.nextInt(0, 30);
            while (day < DAYS) {
                int nights = random.nextInt(1, 10);
                String vessel = VESSELS.get(random.nextInt(VESSELS.size())) + " " + random.nextInt(1, 500);
                reservations.add(new Reservation(reservations.size() + 1, berth, FIRST_DAY + day, nights, vessel));
                day += nights + random.nextInt(2, 48);
            }
        }
        return List.copyOf(reservations);
    }
}
