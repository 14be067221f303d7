package kadrem.load.drive.grpc;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;

import io.grpc.MethodDescriptor;

/** Messages as the bytes they are on the wire: what they mean is looked at only where somebody asks. */
enum BytesMarshaller implements MethodDescriptor.Marshaller<byte[]> {
    INSTANCE;

    @Override
    public InputStream stream(byte[] message) {
        return new ByteArrayInputStream(message);
    }

    @Override
    public byte[] parse(InputStream stream) {
        try {
            return stream.readAllBytes();
        } catch (IOException cause) {
            throw new UncheckedIOException(cause);
        }
    }
}
