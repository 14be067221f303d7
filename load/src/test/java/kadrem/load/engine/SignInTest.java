package kadrem.load.engine;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLParameters;
import javax.net.ssl.TrustManager;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsExchange;
import com.sun.net.httpserver.HttpsParameters;
import com.sun.net.httpserver.HttpsServer;
import io.netty.handler.ssl.ApplicationProtocolConfig;
import io.netty.handler.ssl.ApplicationProtocolNames;
import io.netty.handler.ssl.SslContextBuilder;
import io.netty.handler.ssl.SslProvider;
import io.netty.pkitesting.X509Bundle;
import kadrem.core.measure.FailureKind;
import kadrem.core.study.Access;
import kadrem.core.study.Address;
import kadrem.core.study.LoadProfile;
import kadrem.core.study.SignIn;
import kadrem.core.study.Tls;
import kadrem.core.study.Wire;
import kadrem.load.drive.Certificate;
import kadrem.load.net.Transport;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Sign-in and TLS against servers that really check. */
class SignInTest {
    private static final String PASSWORD = "{{env:BERTH_TOKEN}}";
    private static final String SECRET = "tok-31415";
    @TempDir
    private Path folder;
    private HttpServer server;
    /** Creation times of the TLS sessions that the server saw. */
    private final Set<Long> sessions = ConcurrentHashMap.newKeySet();

    @AfterEach
    void stop() {
        if (server != null) {
            server.stop(0);
        }
    }

    private interface Handling {
        int status(HttpExchange exchange) throws IOException;
    }

    private int serve(HttpServer made, Handling handling) {
        server = made;
        server.createContext("/", exchange -> {
            int status = handling.status(exchange);
            byte[] body = "ok".getBytes(StandardCharsets.US_ASCII);
            exchange.sendResponseHeaders(status, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        server.setExecutor(java.util.concurrent.Executors.newVirtualThreadPerTaskExecutor());
        server.start();
        return server.getAddress().getPort();
    }

    private int serve(Handling handling) throws IOException {
        return serve(HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 64), handling);
    }

    private static Load run(Address address, Access access, LoadProfile load) {
        return Load.run(new LoadOrder(address, access, Load.one("/berths/7?day=2026-07-14"), load, 1, 1),
                Transport.best());
    }

    private static Load run(int port, SignIn signIn) {
        return run(new Address("127.0.0.1", port, ""), new Access(signIn, Tls.USUAL), Load.arrivals(40, 40, 4));
    }

    @Test
    void passwordsTokensAndKeysAreSentWithEveryCall() throws IOException {
        // "harbour:tok-31415" in Base64
        String basic = "Basic aGFyYm91cjp0b2stMzE0MTU=";
        int port = serve(exchange -> {
            String sent = exchange.getRequestHeaders().getFirst("Authorization");
            String key = exchange.getRequestHeaders().getFirst("X-Berth-Key");
            return basic.equals(sent) || ("Bearer " + SECRET).equals(sent) || SECRET.equals(key) ? 200 : 401;
        });
        for (SignIn signIn : List.of(new SignIn.Basic("harbour", PASSWORD), new SignIn.Bearer(PASSWORD),
                new SignIn.Key("X-Berth-Key", PASSWORD))) {
            Load load = run(port, signIn);
            assertThat(load.figures.good()).as(signIn.words()).isEqualTo(40);
            assertThat(load.exchanges).allSatisfy(
                    exchange -> assertThat(exchange.request()).doesNotContain(SECRET).doesNotContain("aGFyYm91"));
        }
        assertThat(run(port, new SignIn.None()).failed(FailureKind.UNEXPECTED_STATUS)).isEqualTo(40);
    }

    private static String md5(String text) {
        try {
            return HexFormat.of().formatHex(
                    MessageDigest.getInstance("MD5").digest(text.getBytes(StandardCharsets.UTF_8)));
        } catch (java.security.NoSuchAlgorithmException impossible) {
            throw new AssertionError(impossible);
        }
    }

    private static String part(String header, String name) {
        Matcher matcher = Pattern.compile(name + "=\"?([^\",]+)").matcher(header);
        return matcher.find() ? matcher.group(1) : "";
    }

    /** A server that knows the password, gives a new nonce now and then, and takes each count of a nonce once. */
    @Test
    void challengesAreMetAndStaleOnesMetAnew() throws IOException {
        var nonce = new AtomicInteger(1);
        var answered = new AtomicInteger();
        var challenged = new AtomicInteger();
        Set<String> used = ConcurrentHashMap.newKeySet();
        int port = serve(exchange -> {
            String sent = String.valueOf(exchange.getRequestHeaders().getFirst("Authorization"));
            String now = "n" + nonce.get();
            String expected = md5(md5("harbour:board:" + SECRET) + ":" + now + ":" + part(sent, "nc") + ":"
                    + part(sent, "cnonce") + ":auth:" + md5("GET:" + exchange.getRequestURI()));
            boolean right = part(sent, "nonce").equals(now) && expected.equals(part(sent, "response"))
                    && used.add(now + part(sent, "nc") + part(sent, "cnonce"));
            if (right && answered.incrementAndGet() % 20 == 0) {
                nonce.incrementAndGet();
            }
            if (!right) {
                challenged.incrementAndGet();
                exchange.getResponseHeaders().add("WWW-Authenticate",
                        "Digest realm=\"board\", qop=\"auth\", stale=true, nonce=\"" + now + "\"");
            }
            return right ? 200 : 401;
        });
        Load load = run(port, new SignIn.Digest("harbour", PASSWORD));
        assertThat(load.figures.good()).isEqualTo(40);
        assertThat(challenged.get()).as("not every call is challenged").isBetween(2, 20);
        assertThat(load.figures.sent()).as("a challenge is part of its call").isEqualTo(40);
    }

    @Test
    void aWrongPasswordIsARefusedCallAndNoEndlessTalk() throws IOException {
        var requests = new AtomicInteger();
        int port = serve(exchange -> {
            requests.incrementAndGet();
            exchange.getResponseHeaders().add("WWW-Authenticate", "Digest realm=\"b\", qop=\"auth\", nonce=\"x\"");
            return 401;
        });
        Load load = run(port, new SignIn.Digest("harbour", PASSWORD));
        assertThat(load.failed(FailureKind.UNEXPECTED_STATUS)).isEqualTo(40);
        assertThat(requests.get()).isLessThanOrEqualTo(80);
    }

    /** Tokens live for a second; the run lasts three. RFC 6749, section 4.4 and, for the client's own proof, 2.3.1. */
    @Test
    void aTokenThatExpiresInTheMiddleOfARunIsRenewedBefore() throws IOException {
        var issued = new AtomicInteger();
        var validUntil = new ConcurrentHashMap<String, Long>();
        int port = serve(exchange -> {
            if (exchange.getRequestURI().getPath().equals("/token")) {
                String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
                // "kadrem:tok-31415" in Base64
                boolean known = "Basic a2FkcmVtOnRvay0zMTQxNQ==".equals(
                        exchange.getRequestHeaders().getFirst("Authorization"));
                if (!known || !body.equals("grant_type=client_credentials&scope=berths+read")) {
                    return 400;
                }
                String token = "t" + issued.incrementAndGet();
                validUntil.put(token, System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(1000));
                byte[] json = ("{\"access_token\":\"" + token + "\",\"token_type\":\"Bearer\",\"expires_in\":1}")
                        .getBytes();
                exchange.getResponseHeaders().add("Content-Type", "application/json");
                exchange.sendResponseHeaders(200, json.length);
                exchange.getResponseBody().write(json);
                exchange.close();
                return 200;
            }
            String sent = String.valueOf(exchange.getRequestHeaders().getFirst("Authorization")).replace("Bearer ", "");
            return validUntil.getOrDefault(sent, 0L) > System.nanoTime() ? 200 : 401;
        });
        var signIn = new SignIn.ClientCredentials("http://127.0.0.1:" + port + "/token", "kadrem", PASSWORD,
                "berths read");
        Load load = run(new Address("127.0.0.1", port, ""), new Access(signIn, Tls.USUAL), Load.open(40, 4, 0, 3));
        assertThat(issued.get()).isGreaterThanOrEqualTo(3);
        assertThat(load.figures.good()).as("all but those that a busy machine made late").isGreaterThan(100);
        assertThatThrownBy(() -> run(port, new SignIn.ClientCredentials("http://127.0.0.1:" + port + "/token", "who",
                PASSWORD, ""))).hasMessageContaining("no token could be had").hasMessageNotContaining(SECRET);
    }

    /** An https server whose certificate is for 127.0.0.1; cert.pem holds the certificate. */
    private int secure() throws Exception {
        return secure(Certificate.make(folder), null);
    }

    /** @param clients who may connect; null where anybody may */
    private int secure(X509Bundle certificate, TrustManager @Nullable [] clients) throws Exception {
        KeyManagerFactory managers = certificate.toKeyManagerFactory();
        SSLContext context = SSLContext.getInstance("TLS");
        context.init(managers.getKeyManagers(), clients, null);
        HttpsServer made = HttpsServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 64);
        made.setHttpsConfigurator(new HttpsConfigurator(context) {
            @Override
            public void configure(HttpsParameters parameters) {
                SSLParameters wanted = context.getDefaultSSLParameters();
                wanted.setNeedClientAuth(clients != null);
                parameters.setSSLParameters(wanted);
            }
        });
        return serve(made, exchange -> {
            sessions.add(((HttpsExchange) exchange).getSSLSession().getCreationTime());
            return 200;
        });
    }

    private Load overTls(int port, boolean verify, Optional<Path> authority) {
        return overTls(port, new Tls(verify, authority.map(Path::toString), Optional.empty(), Optional.empty()));
    }

    private static Load overTls(int port, Tls tls) {
        return run(new Address("127.0.0.1", port, "", true), new Access(new SignIn.None(), tls),
                new LoadProfile.Open(20, LoadProfile.Spacing.CONSTANT, 2, Duration.ZERO, Duration.ofSeconds(1),
                        Load.PATIENT));
    }

    @Test
    void aCertificateIsCheckedUnlessTheStudySaysOtherwise() throws Exception {
        int port = secure();
        Path certificate = folder.resolve("cert.pem");
        assertThat(overTls(port, true, Optional.of(certificate)).figures.good()).isEqualTo(20);
        assertThat(overTls(port, true, Optional.empty()).failed(FailureKind.TLS)).as("unknown authority").isEqualTo(20);
        assertThat(overTls(port, false, Optional.empty()).figures.good()).as("not looked at").isEqualTo(20);
    }

    /** A server that wants to know who calls: the handshake fails without the certificate, and works with it. */
    @Test
    void aCertificateOfOnesOwnIsShownToAServerThatAsksForIt() throws Exception {
        Path mine = Files.createDirectory(folder.resolve("mine"));
        X509Bundle me = Certificate.make(mine, Certificate.board().subject("CN=me"));
        int port = secure(Certificate.make(folder), me.toTrustManagerFactory().getTrustManagers());
        Optional<String> authority = Optional.of(folder.resolve("cert.pem").toString());
        var known = new Tls(true, authority, Optional.of(mine.resolve("cert.pem").toString()),
                Optional.of(mine.resolve("key.pem").toString()));
        assertThat(overTls(port, known).figures.good()).isEqualTo(20);
        var unknown = new Tls(true, authority, Optional.empty(), Optional.empty());
        Load refused = overTls(port, unknown);
        assertThat(refused.figures.good()).isZero();
        assertThat(refused.failed(FailureKind.TLS)).isEqualTo(20);
    }

    /** A session that is resumed has the age of the first; without resumption each connection has a session of its own. */
    @Test
    void tlsSessionsAreResumedOrNotAsChosen() throws Exception {
        int port = secure();
        var tls = new Tls(true, Optional.of(folder.resolve("cert.pem").toString()), Optional.empty(), Optional.empty());
        for (boolean resumed : new boolean[]{true, false}) {
            sessions.clear();
            var load = new LoadProfile.Open(20, LoadProfile.Spacing.CONSTANT, 1, Duration.ZERO, Duration.ofSeconds(1),
                    Load.PATIENT);
            Load sent = run(new Address("127.0.0.1", port, "", true), new Access(new SignIn.None(), tls,
                    Wire.USUAL.withReuse(Wire.Reuse.PER_CALL).withResumption(resumed)), load);
            assertThat(sent.figures.good()).isEqualTo(20);
            assertThat(sent.figures.connects().handshake().count()).isEqualTo(20);
            assertThat(sent.figures.connects().connect().count()).isEqualTo(20);
            assertThat(sessions.size()).as(resumed ? "few, resumed" : "each its own")
                    .isBetween(resumed ? 1 : 16, resumed ? 4 : 20);
        }
    }

    /** The certificate of {@link #secure} as an HTTP/2 server has it, chosen by ALPN (RFC 7301). */
    @Test
    void http2IsChosenByAlpn() throws Exception {
        X509Bundle certificate = Certificate.make(folder);
        secure(certificate, null);
        var alpn = new ApplicationProtocolConfig(ApplicationProtocolConfig.Protocol.ALPN,
                ApplicationProtocolConfig.SelectorFailureBehavior.NO_ADVERTISE,
                ApplicationProtocolConfig.SelectedListenerFailureBehavior.ACCEPT, ApplicationProtocolNames.HTTP_2);
        var tls = new Tls(true, Optional.of(folder.resolve("cert.pem").toString()), Optional.empty(), Optional.empty());
        Wire wire = Wire.USUAL.withProtocol(Wire.Protocol.HTTP_2, 2);
        LoadProfile load = Load.arrivals(40, 40, 4);
        try (var two = new Http2TestServer(Optional.of(SslContextBuilder.forServer(certificate.toKeyManagerFactory())
                .sslProvider(SslProvider.JDK).applicationProtocolConfig(alpn).build()), 100,
                (_, _, stream) -> Http2TestServer.ok(stream, "ok"))) {
            assertThat(run(new Address("127.0.0.1", two.port(), "", true), new Access(new SignIn.None(), tls, wire),
                    load).figures.good()).isEqualTo(40);
        }
        int one = server.getAddress().getPort();
        Load refused = run(new Address("127.0.0.1", one, "", true), new Access(new SignIn.None(), tls, wire), load);
        assertThat(refused.failed(FailureKind.TLS)).as("a server without ALPN").isEqualTo(40);
        assertThat(refused.exchanges.getFirst().detail()).contains("did not choose HTTP/2");
    }

    @Test
    void aCertificateForAnotherNameIsRefused() throws Exception {
        int port = secure(Certificate.make(folder, Certificate.board().addSanDnsName("elsewhere.example")), null);
        assertThat(overTls(port, true, Optional.of(folder.resolve("cert.pem"))).failed(FailureKind.TLS)).isEqualTo(20);
    }

    @Test
    void aCertificateThatHasExpiredIsRefused() throws Exception {
        Instant lately = Instant.now().minus(Duration.ofDays(7));
        int port = secure(Certificate.make(folder, Certificate.board().addSanIpAddress("127.0.0.1")
                .notBefore(lately.minus(Duration.ofDays(2))).notAfter(lately)), null);
        Load refused = overTls(port, true, Optional.of(folder.resolve("cert.pem")));
        assertThat(refused.failed(FailureKind.TLS)).isEqualTo(20);
        assertThat(refused.exchanges.getFirst().detail()).containsIgnoringCase("NotAfter");
    }
}
