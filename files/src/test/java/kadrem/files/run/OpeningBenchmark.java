package kadrem.files.run;

import java.nio.file.Files;
import java.nio.file.Path;

import kadrem.core.examine.Selection;

/**
 * Time that it takes to read a run of eight hours with twenty calls as Examine does, by minutes and, for reference, by seconds.
 * With a folder as second argument the run is only written there, to be looked at in the window.
 */
final class OpeningBenchmark {
    private OpeningBenchmark() {
    }

    public static void main(String[] arguments) throws Exception {
        Path study = arguments.length > 1 ? Path.of(arguments[1]) : Files.createTempDirectory("kadrem-long");
        Path run = LongRunTest.write(study, (arguments.length > 0 ? Integer.parseInt(arguments[0]) : 8) * 3600, 20, 60);
        if (arguments.length > 1) {
            System.out.println(run);
            return;
        }
        for (int i = 0; i < 3; i++) {
            System.out.printf("by minutes %.2f s%n", read(run));
        }
        Files.delete(run.resolve("minutes.csv"));
        System.out.printf("by seconds %.2f s%n", read(run));
        try (var files = Files.list(run)) {
            for (Path file : files.toList()) {
                System.out.println(file.getFileName() + " " + Files.size(file) / (1 << 20) + " MiB");
                Files.delete(file);
            }
        }
    }

    private static double read(Path run) throws Exception {
        long begun = System.nanoTime();
        RunReader.view(run, Selection.ALL);
        RunReader.exchanges(run);
        RunReader.host(run);
        RunReader.watch(run);
        return (System.nanoTime() - begun) / 1e9;
    }
}
