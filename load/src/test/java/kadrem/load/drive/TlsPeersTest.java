package kadrem.load.drive;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

import kadrem.core.measure.FailureKind;
import kadrem.core.rehearsal.RehearsedCall;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.Call;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.Wire;
import kadrem.fixtures.Ports;
import kadrem.fixtures.Programs;
import kadrem.load.content.UnusableCall;
import kadrem.load.engine.Load;
import kadrem.load.engine.LoadOrder;
import kadrem.load.net.Transport;
import kadrem.standins.berths.GrpcService;
import kadrem.standins.berths.SqlService;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Debian's nginx as a front with TLS and HTTP/2, and its redis-server with TLS, where they are installed. */
class TlsPeersTest {
    private static final Path NGINX = Path.of("/usr/sbin/nginx");
    private static final Path REDIS = Path.of("/usr/bin/redis-server");

    @TempDir
    static Path folder;

    @BeforeAll
    static void certificate() throws Exception {
        Certificate.make(folder);
    }

    private static Access trusting(boolean right, Wire wire) {
        return new Access(new SignIn.None(), new Tls(true,
                right ? Optional.of("cert.pem") : Optional.empty(), Optional.empty(), Optional.empty()), wire,
                Map.of());
    }

    private static DriverOrder order(Address address, Access access, Call call) {
        return new DriverOrder(address, access, Rehearsed.workload(call), Duration.ofSeconds(20),
                new Secrets(Map.of(), folder), Transport.best());
    }

    private static RehearsedCall one(Address address, Access access, Call call) throws UnusableCall {
        return Rehearsed.all(order(address, access, call)).getFirst();
    }

    private static Process nginx(int port, int rest, int grpc) throws IOException {
        Path settings = folder.resolve("nginx.conf");
        Files.writeString(settings, """
                daemon off;
                pid %1$s/nginx.pid;
                error_log %1$s/nginx-error.log;
                events {}
                http {
                  access_log off;
                  client_body_temp_path %1$s/body; proxy_temp_path %1$s/proxy; fastcgi_temp_path %1$s/fastcgi;
                  uwsgi_temp_path %1$s/uwsgi; scgi_temp_path %1$s/scgi;
                  server {
                    listen 127.0.0.1:%2$d ssl http2;
                    ssl_certificate %1$s/cert.pem;
                    ssl_certificate_key %1$s/key.pem;
                    location / { proxy_pass http://127.0.0.1:%3$d; }
                    location /harbour. { grpc_pass grpc://127.0.0.1:%4$d; }
                    location /grpc. { grpc_pass grpc://127.0.0.1:%4$d; }
                  }
                }
                """.formatted(folder, port, rest, grpc));
        return new ProcessBuilder(NGINX.toString(), "-c", settings.toString(), "-p", folder.toString())
                .redirectErrorStream(true).redirectOutput(folder.resolve("nginx.log").toFile()).start();
    }

    @Test
    void restOverHttp2AndGrpcGoThroughOneFrontWithTls() throws Exception {
        assumeTrue(Programs.isThere(NGINX), "there is no nginx here");
        int port = Ports.free();
        try (SqlService rest = SqlService.onPool(0).start(); GrpcService grpc = GrpcService.on(0)) {
            Process front = nginx(port, rest.port(), grpc.port());
            try {
                Ports.await(port);
                Access second = trusting(true, Wire.USUAL.withProtocol(Wire.Protocol.HTTP_2, 4));
                Address https = new Address("127.0.0.1", port, "", true);
                Call berth = Call.of("berth", "GET", "/berths/7");
                RehearsedCall made = one(https, second, berth);
                assertThat(made.failure()).as(made.detail()).isEmpty();
                assertThat(Rehearsed.body(made)).startsWith("{\"id\":7,");
                Load load = Load.run(new LoadOrder(https, inFolder(second),
                        Rehearsed.workload(berth), Load.arrivals(40, 40, 4), 7, 1), Transport.best());
                assertThat(load.figures.failedTotal()).as("%s", load.exchanges).isZero();
                Address grpcs = Rehearsed.address("grpc", "grpcs://127.0.0.1:" + port);
                Call same = Rehearsed.call("grpc", "berth", "method", "harbour.BerthBoard/GetBerth", "message",
                        "{\"id\": 7}");
                RehearsedCall overGrpc = one(grpcs, second, same);
                assertThat(overGrpc.failure()).as(overGrpc.detail()).isEmpty();
                assertThat(Rehearsed.body(overGrpc)).startsWith("{\"id\":7,");
                assertThat(one(https, trusting(false, Wire.USUAL), berth).failure()).contains(FailureKind.TLS);
            } finally {
                front.destroy();
                front.waitFor();
            }
        }
    }

    /** Files are seen from the study's folder, which a load of a test has not. */
    private static Access inFolder(Access access) {
        return new Access(access.signIn(), new Tls(true, Optional.of(folder.resolve("cert.pem").toString()),
                Optional.empty(), Optional.empty()), access.wire(), access.settings());
    }

    @Test
    void aStoreIsAskedOverTls() throws Exception {
        assumeTrue(Programs.isThere(REDIS), "there is no redis-server here");
        int port = Ports.free();
        Process server = new ProcessBuilder(List.of(REDIS.toString(), "--port", "0", "--tls-port",
                Integer.toString(port), "--bind", "127.0.0.1", "--tls-cert-file", folder.resolve("cert.pem").toString(),
                "--tls-key-file", folder.resolve("key.pem").toString(), "--tls-ca-cert-file",
                folder.resolve("cert.pem").toString(), "--tls-auth-clients", "no", "--save", "", "--dir",
                folder.toString())).redirectErrorStream(true).redirectOutput(folder.resolve("redis.log").toFile())
                .start();
        try {
            Ports.await(port);
            Address rediss = Rehearsed.address("resp", "rediss://127.0.0.1:" + port);
            Call ping = Rehearsed.call("resp", "ping", "commands", "PING");
            RehearsedCall made = one(rediss, trusting(true, Wire.USUAL), ping);
            assertThat(Rehearsed.body(made)).as(made.detail()).isEqualTo("\"PONG\"");
            assertThat(one(rediss, trusting(false, Wire.USUAL), ping).failure()).contains(FailureKind.TLS);
        } finally {
            server.destroy();
            server.waitFor();
        }
    }
}
