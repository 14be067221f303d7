package kadrem.load.drive.http;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;

import org.junit.jupiter.api.Test;

class DigestAnswerTest {
    private static final String CNONCE = "f2/wE4q74E6zIJEtWaHKaf5wv/H5QzzpXusqGemxURZJ";
    private static final String CHALLENGE = "Digest realm=\"http-auth@example.org\", qop=\"auth, auth-int\", algorithm=%s,"
            + " nonce=\"7ypf/xlj9XXwfDPEoM4URrv/xwf94BcCAzFZH4GiTo0v\","
            + " opaque=\"FQhe/qaU925kfnzjCev0ciny7QMkPqMAFRtzCUYo5tdS\"";

    private static String answer(String... challenges) {
        return DigestAnswer.to(List.of(challenges), "Mufasa", "Circle of Life", CNONCE).orElseThrow()
                .authorization("GET", "/dir/index.html");
    }

    /** RFC 7616, section 3.9.1. */
    @Test
    void theExampleOfTheStandard() {
        assertThat(answer(CHALLENGE.formatted("MD5"))).contains("username=\"Mufasa\"")
                .contains("uri=\"/dir/index.html\"").contains("nc=00000001").contains("qop=auth")
                .contains("opaque=\"FQhe/qaU925kfnzjCev0ciny7QMkPqMAFRtzCUYo5tdS\"")
                .contains("response=\"8ca523f5e9506fed4657c9700eebdbec\"");
        assertThat(answer(CHALLENGE.formatted("SHA-256"))).contains(
                "response=\"753927fa0e85d155564e2e272a28d1802ca10daf4496794697cf8db5856cb6c1\"");
    }

    @Test
    void theStrongestChallengeIsAnsweredAndRequestsAreCounted() {
        DigestAnswer answer = DigestAnswer
                .to(List.of("Basic realm=\"x\"", CHALLENGE.formatted("MD5"), CHALLENGE.formatted("SHA-256")), "u", "p",
                        CNONCE)
                .orElseThrow();
        assertThat(answer.authorization("GET", "/")).contains("algorithm=SHA-256").contains("nc=00000001");
        assertThat(answer.authorization("GET", "/")).contains("nc=00000002");
    }

    @Test
    void whatCannotBeAnsweredIsNot() {
        assertThat(DigestAnswer.to(List.of("Basic realm=\"x\"", CHALLENGE.formatted("MD4"),
                "Digest realm=\"x\", nonce=\"n\", qop=\"auth-int\""), "u", "p", CNONCE)).isEmpty();
    }

    /** RFC 2617, section 3.5 is the same example without "auth" left out; RFC 2069 had no qop: MD5(HA1:nonce:HA2). */
    @Test
    void challengesWithoutQualityAreAnsweredInTheOldWay() {
        String answer = answer("Digest realm=\"r\", nonce=\"n\"");
        assertThat(answer).doesNotContain("nc=").doesNotContain("qop").containsPattern("response=\"[0-9a-f]{32}\"");
    }
}
