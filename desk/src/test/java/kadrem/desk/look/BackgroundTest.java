package kadrem.desk.look;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;

import javafx.application.Platform;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.condition.EnabledIf;
import org.testfx.api.FxToolkit;

@EnabledIf("kadrem.desk.DrivenWindow#hasDisplay")
@Timeout(value = 60, unit = TimeUnit.SECONDS)
class BackgroundTest {
    @BeforeAll
    static void begin() throws Exception {
        FxToolkit.registerPrimaryStage();
    }

    /** What is told of some work: what came of it or why nothing did, and on which thread. */
    private record Told(Object what, boolean onTheInterfaceThread) {
    }

    private static Told told(Background background, Background.Work<?> work) throws Exception {
        var told = new CompletableFuture<Told>();
        background.run(work, made -> told.complete(new Told(made, Platform.isFxApplicationThread())),
                cause -> told.complete(new Told(cause, Platform.isFxApplicationThread())));
        return told.get(20, TimeUnit.SECONDS);
    }

    @Test
    void workIsDoneElsewhereAndWhatComesOfItIsTakenOnTheInterfaceThread() throws Exception {
        assertThat(told(Background.AT_ONCE, Platform::isFxApplicationThread)).isEqualTo(new Told(false, true));
    }

    @Test
    void aFailureIsTold() throws Exception {
        Told told = told(Background.AT_ONCE, () -> {
            throw new IllegalStateException("no room");
        });
        assertThat((Exception) told.what()).hasMessage("no room");
        assertThat(told.onTheInterfaceThread()).isTrue();
    }

    /** As of a driver whose library is lacking: nobody may wait for what never comes. */
    @Test
    void anErrorIsToldToo() throws Exception {
        try (Background one = Background.inOrder("test")) {
            Told told = told(one, () -> {
                throw new NoClassDefFoundError("harbour/Driver");
            });
            assertThat((Exception) told.what()).hasMessageContaining("harbour/Driver")
                    .hasCauseInstanceOf(NoClassDefFoundError.class);
            assertThat(told(one, () -> "next").what()).as("and the thread goes on").isEqualTo("next");
        }
    }

    @Test
    void workThatIsStoppedIsInterrupted() throws Exception {
        var begun = new CountDownLatch(1);
        var told = new CompletableFuture<Exception>();
        Background.Running running = Background.AT_ONCE.run(() -> {
            begun.countDown();
            return new CountDownLatch(1).await(50, TimeUnit.SECONDS);
        }, _ -> told.complete(new IllegalStateException("not stopped")), told::complete);
        assertThat(begun.await(20, TimeUnit.SECONDS)).isTrue();
        running.stop();
        assertThat(told.get(20, TimeUnit.SECONDS)).isInstanceOf(InterruptedException.class);
        running.await(Duration.ofSeconds(20));
    }

    @Test
    void workAfterTheEndIsNotBegunAndNobodyWaitsForIt() {
        Background one = Background.inOrder("test");
        one.close();
        var begun = new CountDownLatch(1);
        one.run(() -> {
            begun.countDown();
            return "";
        }, _ -> {
        }, _ -> {
        }).await(Duration.ofSeconds(20));
        assertThat(begun.getCount()).isEqualTo(1);
    }
}
