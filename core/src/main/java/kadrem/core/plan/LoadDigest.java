package kadrem.core.plan;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

import kadrem.core.study.Study;

/** The digest of what a study sends and how much of it, by which runs from before an edit are told apart. */
public final class LoadDigest {
    private static final int SHOWN_BYTES = 8;

    private LoadDigest() {
    }

    /** The first 16 hexadecimal digits of the SHA-256 of workload and load profile in their written form. */
    public static String of(Study study) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256")
                    .digest((study.workload() + "\n" + study.load()).getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(digest, 0, SHOWN_BYTES);
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("every Java platform has SHA-256", impossible);
        }
    }
}
