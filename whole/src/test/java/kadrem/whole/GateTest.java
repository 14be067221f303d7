package kadrem.whole;

import static com.tngtech.archunit.core.domain.JavaCall.Predicates.target;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.assignableTo;
import static com.tngtech.archunit.core.domain.properties.HasName.Predicates.name;
import static com.tngtech.archunit.core.domain.properties.HasName.Predicates.nameMatching;
import static com.tngtech.archunit.core.domain.properties.HasOwner.Predicates.With.owner;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import java.net.DatagramSocket;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.http.HttpClient;
import java.nio.channels.AsynchronousSocketChannel;
import java.nio.channels.DatagramChannel;
import java.nio.channels.SocketChannel;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.junit.AnalyzeClasses;
import com.tngtech.archunit.junit.ArchTest;
import com.tngtech.archunit.lang.ArchRule;
import kadrem.load.campaign.Control;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Secrets;

/**
 * What goes out of Kadrem goes out at few places, each of which has asked for the user's word: {@link Control} for each candidate, or
 * the command and the button that begin it. Whoever adds another meets this test, and asks there, too.
 */
@AnalyzeClasses(packages = "kadrem", importOptions = OfTheProduct.class)
final class GateTest {
    private static DescribedPredicate<JavaClass> oneOf(String... names) {
        return new DescribedPredicate<>("one of " + String.join(", ", names)) {
            @Override
            public boolean test(JavaClass type) {
                String name = type.getFullName().replaceAll("\\$.*", "");
                return java.util.Arrays.asList(names).contains(name);
            }
        };
    }

    /** Launches, resets and calls of a study's, the process of the load, programs that are asked what they are, and the JDK's key tool in a stand-in. */
    @ArchTest
    static final ArchRule PROGRAMS_ARE_STARTED_IN_FEW_PLACES = noClasses()
            .that(DescribedPredicate.not(oneOf("kadrem.load.campaign.CandidateProcess", "kadrem.load.campaign.Control",
                    "kadrem.load.campaign.Worktree", "kadrem.load.campaign.Fingerprint",
                    "kadrem.load.generator.GeneratorProcess", "kadrem.load.drive.command.Program",
                    "kadrem.load.drive.grpc.ProtoCompiler", "kadrem.standins.habits.Certificates")))
            .should().dependOnClassesThat(assignableTo(ProcessBuilder.class))
            .orShould().callMethodWhere(target(owner(assignableTo(Runtime.class))).and(target(name("exec"))));

    @ArchTest
    static final ArchRule ONLY_LOAD_AND_STAND_INS_OPEN_SOCKETS = noClasses().that()
            .resideOutsideOfPackages("kadrem.load..", "kadrem.standins..").should()
            .dependOnClassesThat(assignableTo(Socket.class).or(assignableTo(ServerSocket.class))
                    .or(assignableTo(HttpClient.class)).or(assignableTo(SocketChannel.class))
                    .or(assignableTo(DatagramSocket.class)).or(assignableTo(DatagramChannel.class))
                    .or(assignableTo(AsynchronousSocketChannel.class)));

    @ArchTest
    static final ArchRule WITHIN_LOAD_DRIVERS_SOURCES_AND_CONTROL_OPEN_SOCKETS = noClasses().that()
            .resideInAPackage("kadrem.load..").and()
            .resideOutsideOfPackages("kadrem.load.drive..", "kadrem.load.host..",
                    "kadrem.load.net..", "kadrem.load.record..", "kadrem.load.wire..")
            .and(DescribedPredicate.not(oneOf("kadrem.load.campaign.Control"))).should()
            .dependOnClassesThat(assignableTo(Socket.class).or(assignableTo(HttpClient.class))
                    .or(assignableTo(SocketChannel.class)));

    /** A driver is opened on an order, and orders are made by those who have asked. */
    @ArchTest
    static final ArchRule CANDIDATES_ARE_ASKED_BY_FEW = noClasses().that().resideOutsideOfPackage("kadrem.load.drive..")
            .and(DescribedPredicate.not(oneOf("kadrem.load.campaign.Control", "kadrem.load.campaign.Rehearsing",
                    "kadrem.load.generator.LocalLoad")))
            .should().callConstructorWhere(target(owner(assignableTo(DriverOrder.class))));

    @ArchTest
    static final ArchRule SECRETS_ARE_READ_BY_FEW = noClasses()
            .that(DescribedPredicate.not(oneOf("kadrem.load.campaign.Control", "kadrem.load.campaign.Rehearsing",
                    "kadrem.load.campaign.Campaign", "kadrem.load.campaign.SelfCheck", "kadrem.load.campaign.Probing",
                    "kadrem.load.generator.Generator", "kadrem.cli.TryCommand", "kadrem.cli.WatchCommand",
                    "kadrem.desk.candidates.WatchPane",
                    // what is looked for before a study is passed on
                    "kadrem.load.drive.Secrets", "kadrem.cli.ExportCommand", "kadrem.desk.export.ExportDialog")))
            .should()
            .callMethodWhere(target(owner(assignableTo(Secrets.class))).and(target(nameMatching("ofProcess|formsIn"))));

    /** A description or an archive that is read fetches nothing. */
    @ArchTest
    static final ArchRule FILES_ASK_NOBODY = noClasses().that()
            .resideInAnyPackage("kadrem.files..", "kadrem.core..", "kadrem.figures..").should()
            .dependOnClassesThat().resideInAnyPackage("java.net.http..", "io.netty..", "java.nio.channels.spi..");
}
