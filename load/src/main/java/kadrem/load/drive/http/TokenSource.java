package kadrem.load.drive.http;

import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Base64;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import kadrem.core.study.SignIn;
import kadrem.load.drive.Secrets;
import kadrem.load.content.UnusableCall;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * An OAuth 2.0 access token by client credentials (RFC 6749, section 4.4), fetched before the load and renewed on a thread
 * of its own when four fifths of its life are over, or at once when a call was refused with it.
 */
final class TokenSource implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(TokenSource.class);
    private static final ObjectMapper JSON = new ObjectMapper();
    private static final Duration LIMIT = Duration.ofSeconds(10);
    private static final double LIFE_SHARE = 0.8;
    private static final long RETRY_MILLIS = 500;
    private static final long UNTOLD_LIFE_SECONDS = 3600;

    private final SignIn.ClientCredentials credentials;
    private final String secret;
    private final Secrets secrets;
    private final HttpClient client = HttpClient.newBuilder().connectTimeout(LIMIT).build();
    private final ScheduledExecutorService renewal = Executors.newSingleThreadScheduledExecutor(
            Thread.ofPlatform().name("kadrem-token").daemon().factory());
    private final AtomicBoolean renewing = new AtomicBoolean();
    private volatile byte[] authorization = new byte[0];

    /** @throws UnusableCall if no token can be had */
    TokenSource(SignIn.ClientCredentials credentials, String secret, Secrets secrets) throws UnusableCall {
        this.credentials = credentials;
        this.secret = secret;
        this.secrets = secrets;
        try {
            fetch();
        } catch (IOException cause) {
            close();
            throw new UnusableCall("no token could be had from " + credentials.tokenAddress() + ": "
                    + cause.getMessage());
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
            close();
            throw new UnusableCall("the fetching of a token was interrupted");
        }
    }

    /** The value of the Authorization header as it is now; any thread. */
    byte[] authorization() {
        return authorization;
    }

    /** Renews the token soon, since a call was refused with it; any thread, and does nothing while it is being renewed. */
    void renewSoon() {
        if (renewing.compareAndSet(false, true)) {
            renewal.execute(this::renew);
        }
    }

    private void renew() {
        renewing.set(true);
        try {
            fetch();
            renewing.set(false);
        } catch (IOException cause) {
            LOG.warn("the token could not be renewed: {}", cause.getMessage());
            renewal.schedule(this::renew, RETRY_MILLIS, TimeUnit.MILLISECONDS);
        } catch (InterruptedException _) {
            Thread.currentThread().interrupt();
        }
    }

    private void fetch() throws IOException, InterruptedException {
        String client64 = Base64.getEncoder().encodeToString(
                (encode(credentials.client()) + ":" + encode(secret)).getBytes(StandardCharsets.UTF_8));
        String body = "grant_type=client_credentials"
                + (credentials.scope().isEmpty() ? "" : "&scope=" + encode(credentials.scope()));
        HttpRequest request = HttpRequest.newBuilder(URI.create(credentials.tokenAddress())).timeout(LIMIT)
                .header("Authorization", "Basic " + client64)
                .header("Content-Type", "application/x-www-form-urlencoded").header("Accept", "application/json")
                .POST(HttpRequest.BodyPublishers.ofString(body)).build();
        HttpResponse<String> response = client.send(request, HttpResponse.BodyHandlers.ofString());
        JsonNode json;
        try {
            json = JSON.readTree(response.body());
        } catch (JsonProcessingException cause) {
            throw new IOException("status " + response.statusCode() + ", and an answer that is not JSON", cause);
        }
        if (response.statusCode() != 200 || json == null || !json.path("access_token").isTextual()) {
            throw new IOException("status " + response.statusCode()
                    + (json == null || json.path("error").isMissingNode()
                            ? ""
                            : ", error " + json.path("error").asText()));
        }
        String token = json.path("access_token").asText();
        secrets.remember(token);
        authorization = ("Bearer " + token).getBytes(StandardCharsets.UTF_8);
        long life = json.path("expires_in").asLong(UNTOLD_LIFE_SECONDS);
        renewal.schedule(this::renew, Math.max(200, (long) (life * 1000 * LIFE_SHARE)), TimeUnit.MILLISECONDS);
    }

    private static String encode(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }

    @Override
    public void close() {
        renewal.shutdownNow();
        client.shutdownNow();
    }
}
