package kadrem.load.drive;

import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;

/**
 * Peers that speak a protocol until they are trusted, and then turn. Formats: MQTT 3.1.1 and 5.0 (OASIS), AMQP 0-9-1 (specification, sections
 * 2.3 and 4.2), PostgreSQL's frontend/backend protocol 3.0 (manual, chapter 55), HTTP/2 (RFC 9113, section 6).
 */
final class HostileScripts {
    private static final int GIBIBYTE = 1 << 30;
    private static final String TOPIC = "arrivals";

    private HostileScripts() {
    }

    private interface Writing {
        void to(DataOutputStream out) throws IOException;
    }

    private static byte[] bytes(Writing writing) throws IOException {
        var bytes = new ByteArrayOutputStream();
        writing.to(new DataOutputStream(bytes));
        return bytes.toByteArray();
    }

    // ---- MQTT -----------------------------------------------------------------------------------------------------

    private static byte[] mqttPacket(DataInputStream in) throws IOException {
        int length = 0;
        int shift = 0;
        int digit;
        do {
            digit = in.readUnsignedByte();
            length |= (digit & 0x7f) << shift;
            shift += 7;
        } while (digit >= 0x80);
        return in.readNBytes(length);
    }

    /** Takes the connection and the subscription, and then says {@code again} without end. */
    static HostilePeer.Script mqtt(boolean five, byte... again) {
        return (in, out) -> {
            while (true) {
                int kind = in.readUnsignedByte() >> 4;
                byte[] packet = mqttPacket(in);
                if (kind == 1) {
                    out.write(five ? new byte[]{0x20, 3, 0, 0, 0} : new byte[]{0x20, 2, 0, 0});
                } else if (kind == 8) {
                    out.write(five
                            ? new byte[]{(byte) 0x90, 4, packet[0], packet[1], 0, 0}
                            : new byte[]{(byte) 0x90, 3, packet[0], packet[1], 0});
                } else {
                    HostilePeer.flood(out, again);
                }
            }
        };
    }

    /** A message of 100 bytes that nobody waits for. */
    static byte[] mqttMessage(boolean five) throws IOException {
        return bytes(out -> {
            var text = "x".repeat(100);
            out.writeByte(0x30);
            out.writeByte(2 + TOPIC.length() + (five ? 1 : 0) + text.length());
            out.writeUTF(TOPIC);
            if (five) {
                out.writeByte(0);
            }
            out.writeBytes(text);
        });
    }

    /** The beginning of the largest message that the protocol has, 256 MiB, as what follows is taken for. */
    static byte[] mqttLargest() {
        return new byte[]{0x30, (byte) 0xff, (byte) 0xff, (byte) 0xff, 0x7f, 0, 1, 'x'};
    }

    // ---- AMQP -----------------------------------------------------------------------------------------------------

    private static void amqp(DataOutputStream out, int type, int channel, Writing payload) throws IOException {
        byte[] content = bytes(payload);
        out.writeByte(type);
        out.writeShort(channel);
        out.writeInt(content.length);
        out.write(content);
        out.writeByte(0xce);
    }

    private static void amqpMethod(DataOutputStream out, int channel, int group, int method, Writing arguments)
            throws IOException {
        amqp(out, 1, channel, content -> {
            content.writeShort(group);
            content.writeShort(method);
            arguments.to(content);
        });
    }

    /** Takes connection, channel and confirmations, and then says {@code again} without end. */
    static HostilePeer.Script amqp(byte... again) {
        return (in, out) -> {
            in.readNBytes(8);
            amqpMethod(out, 0, 10, 10, start -> {
                start.writeByte(0);
                start.writeByte(9);
                start.writeInt(0);
                start.writeInt(5);
                start.writeBytes("PLAIN");
                start.writeInt(5);
                start.writeBytes("en_US");
            });
            while (true) {
                in.readUnsignedByte();
                int channel = in.readUnsignedShort();
                int length = in.readInt();
                int method = in.readInt();
                in.readNBytes(length - 4 + 1);
                switch (method) {
                    case 10 << 16 | 11 -> amqpMethod(out, 0, 10, 30, tune -> {
                        tune.writeShort(0);
                        tune.writeInt(0);
                        tune.writeShort(0);
                    });
                    case 10 << 16 | 31 -> out.flush();
                    case 10 << 16 | 40 -> amqpMethod(out, 0, 10, 41, opened -> opened.writeByte(0));
                    case 20 << 16 | 10 -> amqpMethod(out, channel, 20, 11, opened -> opened.writeInt(0));
                    case 85 << 16 | 10 -> amqpMethod(out, channel, 85, 11, _ -> {
                    });
                    default -> HostilePeer.flood(out, again);
                }
            }
        };
    }

    /** A frame of almost 2 GiB. */
    static byte[] amqpLargest() throws IOException {
        return bytes(out -> {
            out.writeByte(3);
            out.writeShort(1);
            out.writeInt(Integer.MAX_VALUE - 16);
        });
    }

    private static byte[] amqpReturned(long length, int pieces) throws IOException {
        return bytes(out -> {
            amqpMethod(out, 1, 60, 50, returned -> {
                returned.writeShort(312);
                returned.writeByte(0);
                returned.writeByte(0);
                returned.writeByte(0);
            });
            amqp(out, 2, 1, header -> {
                header.writeShort(60);
                header.writeShort(0);
                header.writeLong(length);
                header.writeShort(0);
            });
            for (int i = 0; i < pieces; i++) {
                amqp(out, 3, 1, piece -> piece.write(new byte[1024]));
            }
        });
    }

    /** A message of 2^62 bytes that is given back, with the first of it. */
    static byte[] amqpEndless() throws IOException {
        return amqpReturned(1L << 62, 60);
    }

    /** Messages that are given back one after the other. */
    static byte[] amqpReturns() throws IOException {
        return amqpReturned(1024, 1);
    }

    /** Signs of life. */
    static byte[] amqpHeartbeat() throws IOException {
        return bytes(out -> amqp(out, 8, 0, _ -> {
        }));
    }

    // ---- PostgreSQL -----------------------------------------------------------------------------------------------

    private static byte[] message(char type, Writing content) throws IOException {
        byte[] written = bytes(content);
        return bytes(out -> {
            out.writeByte(type);
            out.writeInt(4 + written.length);
            out.write(written);
        });
    }

    private static byte[] text(String... words) throws IOException {
        return bytes(out -> {
            for (String word : words) {
                out.writeBytes(word);
                out.writeByte(0);
            }
        });
    }

    private static byte[] all(byte[]... pieces) throws IOException {
        return bytes(out -> {
            for (byte[] piece : pieces) {
                out.write(piece);
            }
        });
    }

    /** Lets everybody in, and answers every statement with {@code first} and then with {@code again} without end. */
    static HostilePeer.Script postgres(byte[] first, byte... again) {
        return (in, out) -> {
            int length = in.readInt();
            int code = in.readInt();
            in.readNBytes(length - 8);
            while (code == 80877103 || code == 80877104) {
                // neither TLS nor GSSAPI
                out.writeByte('N');
                length = in.readInt();
                code = in.readInt();
                in.readNBytes(length - 8);
            }
            out.write(message('R', ok -> ok.writeInt(0)));
            for (String[] setting : new String[][]{{"server_version", "15.4"}, {"client_encoding", "UTF8"},
                    {"DateStyle", "ISO, MDY"}, {"standard_conforming_strings", "on"}, {"integer_datetimes", "on"},
                    {"TimeZone", "UTC"}}) {
                out.write(message('S', told -> told.write(text(setting))));
            }
            out.write(message('Z', ready -> ready.writeByte('I')));
            boolean isSet = false;
            while (true) {
                int type = in.readUnsignedByte();
                byte[] content = in.readNBytes(in.readInt() - 4);
                isSet |= new String(content, StandardCharsets.ISO_8859_1).contains("SET ");
                if (isSet && (type == 'S' || type == 'Q')) {
                    byte[] parsed = all(message('1', _ -> {
                    }), message('2', _ -> {
                    }));
                    out.write(all(type == 'S' ? parsed : new byte[0], message('C', done -> done.write(text("SET"))),
                            message('Z', ready -> ready.writeByte('I'))));
                    isSet = false;
                } else if (type == 'S' || type == 'Q') {
                    out.write(first);
                    HostilePeer.flood(out, again);
                }
            }
        };
    }

    /** Parsed, bound, and one column of text called {@code quay}. */
    static byte[] postgresBegins() throws IOException {
        return all(message('1', _ -> {
        }), message('2', _ -> {
        }), postgresColumns(1));
    }

    static byte[] postgresColumns(int columns) throws IOException {
        return message('T', described -> {
            described.writeShort(columns);
            for (int i = 0; i < columns; i++) {
                described.write(text("quay"));
                described.writeInt(0);
                described.writeShort(0);
                described.writeInt(25);
                described.writeShort(-1);
                described.writeInt(-1);
                described.writeShort(0);
            }
        });
    }

    static byte[] postgresRow() throws IOException {
        return message('D', row -> {
            row.writeShort(1);
            row.writeInt(10);
            row.writeBytes("North Quay");
        });
    }

    /** A row of which one value is said to take a gibibyte. */
    static byte[] postgresLargestRow() throws IOException {
        return bytes(out -> {
            out.writeByte('D');
            out.writeInt(GIBIBYTE);
            out.writeShort(1);
            out.writeInt(GIBIBYTE - 10);
        });
    }

    static byte[] postgresNotice() throws IOException {
        return message('N', notice -> {
            notice.write(text("SWARNING", "C01000", "Mhigh water"));
            notice.writeByte(0);
        });
    }

    /** An error whose text is said to take a gibibyte. */
    static byte[] postgresLargestError() throws IOException {
        return bytes(out -> {
            out.writeByte('E');
            out.writeInt(GIBIBYTE);
            out.writeByte('M');
        });
    }

    // ---- HTTP/2 below gRPC ----------------------------------------------------------------------------------------

    private static byte[] frame(int type, int flags, int stream, byte... content) throws IOException {
        return bytes(out -> {
            out.writeByte(content.length >> 16);
            out.writeShort(content.length);
            out.writeByte(type);
            out.writeByte(flags);
            out.writeInt(stream);
            out.write(content);
        });
    }

    /** Says its settings, and then {@code again} without end, reading nothing. */
    static HostilePeer.Script http2(byte... again) {
        return (in, out) -> {
            in.read();
            out.write(frame(4, 0, 0));
            HostilePeer.flood(out, again);
        };
    }

    static byte[] http2Ping() throws IOException {
        return frame(6, 0, 0, new byte[8]);
    }

    static byte[] http2Settings() throws IOException {
        return frame(4, 0, 0);
    }

    static byte[] http2EmptyData() throws IOException {
        return frame(0, 0, 3);
    }

    /** A head that goes on and on. */
    static byte[] http2Continued() throws IOException {
        return all(frame(1, 0, 3, new byte[1024]), frame(9, 0, 3, new byte[1024]));
    }

    // ---- Kafka ----------------------------------------------------------------------------------------------------

    /** Answers what asks for versions in the oldest way, and everything else with {@code letter} without end. */
    static HostilePeer.Script kafka(char letter) {
        return (in, out) -> {
            in.readInt();
            short key = in.readShort();
            short version = in.readShort();
            int number = in.readInt();
            if (key == 18 && version == 0) {
                out.writeInt(10);
                out.writeInt(number);
                out.writeShort(0);
                out.writeInt(0);
                HostilePeer.silent(in, out);
            }
            HostilePeer.flood(out, (byte) letter);
        };
    }
}
