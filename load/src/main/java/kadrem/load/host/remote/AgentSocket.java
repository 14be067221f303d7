package kadrem.load.host.remote;

import java.io.EOFException;
import java.io.IOException;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.SocketChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

import org.apache.sshd.agent.SshAgent;
import org.apache.sshd.agent.SshAgentFactory;
import org.apache.sshd.agent.SshAgentServer;
import org.apache.sshd.agent.common.AbstractAgentProxy;
import org.apache.sshd.common.FactoryManager;
import org.apache.sshd.common.channel.ChannelFactory;
import org.apache.sshd.common.session.ConnectionService;
import org.apache.sshd.common.session.Session;
import org.apache.sshd.common.util.buffer.Buffer;
import org.apache.sshd.common.util.buffer.ByteArrayBuffer;
import org.apache.sshd.common.util.threads.ThreadUtils;

/** The user's SSH agent behind its Unix socket; the library reaches one by native code only. */
record AgentSocket(Path socket) implements SshAgentFactory {
    private static final int MAX_ANSWER = 256 * 1024;

    /** The agent that the environment names; empty where there is none. */
    static Optional<AgentSocket> ofUser() {
        return Optional.ofNullable(System.getenv("SSH_AUTH_SOCK")).filter(name -> !name.isBlank()).map(Path::of)
                .filter(Files::exists).map(AgentSocket::new);
    }

    @Override
    public List<ChannelFactory> getChannelForwardingFactories(FactoryManager manager) {
        return List.of();
    }

    @Override
    public SshAgent createClient(Session session, FactoryManager manager) throws IOException {
        return new Client(SocketChannel.open(StandardProtocolFamily.UNIX));
    }

    @Override
    public SshAgentServer createServer(ConnectionService service) throws IOException {
        throw new IOException("the agent is not forwarded");
    }

    /** A connection to the agent: each message is preceded by its length in four bytes. */
    private final class Client extends AbstractAgentProxy {
        private final SocketChannel channel;

        Client(SocketChannel channel) throws IOException {
            super(ThreadUtils.newSingleThreadExecutor("kadrem-ssh-agent"));
            this.channel = channel;
            channel.connect(UnixDomainSocketAddress.of(socket));
        }

        @Override
        protected synchronized Buffer request(Buffer buffer) throws IOException {
            ByteBuffer question = ByteBuffer.wrap(buffer.array(), buffer.rpos(), buffer.available());
            while (question.hasRemaining()) {
                channel.write(question);
            }
            int length = read(Integer.BYTES).getInt();
            if (length < 0 || length > MAX_ANSWER) {
                throw new IOException("the agent answers " + length + " bytes");
            }
            return new ByteArrayBuffer(read(length).array());
        }

        private ByteBuffer read(int length) throws IOException {
            ByteBuffer bytes = ByteBuffer.allocate(length);
            while (bytes.hasRemaining()) {
                if (channel.read(bytes) < 0) {
                    throw new EOFException("the agent closed the connection");
                }
            }
            return bytes.flip();
        }

        @Override
        public boolean isOpen() {
            return channel.isOpen();
        }

        @Override
        public void close() throws IOException {
            channel.close();
            super.close();
        }
    }
}
