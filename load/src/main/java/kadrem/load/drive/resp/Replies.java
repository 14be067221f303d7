package kadrem.load.drive.resp;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import io.netty.handler.codec.redis.ArrayRedisMessage;
import io.netty.handler.codec.redis.ErrorRedisMessage;
import io.netty.handler.codec.redis.FullBulkStringRedisMessage;
import io.netty.handler.codec.redis.IntegerRedisMessage;
import io.netty.handler.codec.redis.RedisMessage;
import io.netty.handler.codec.redis.SimpleStringRedisMessage;

/** Replies as JSON: strings are texts, integers numbers, nulls null and arrays arrays. */
final class Replies {
    private static final JsonFactory JSON = new JsonFactory();
    private static final ObjectMapper MAPPER = new ObjectMapper();

    private Replies() {
    }

    /**
     * The reply of a single command, or an array of the replies of several.
     *
     * @param values what texts are: "text" as they are, "json" JSON themselves, "pairs" names and values by turns in arrays
     */
    static byte[] json(List<RedisMessage> replies, String values) {
        var out = new ByteArrayOutputStream();
        try (JsonGenerator json = JSON.createGenerator(out)) {
            json.setCodec(MAPPER);
            if (replies.size() == 1) {
                write(json, replies.getFirst(), values);
            } else {
                json.writeStartArray();
                for (RedisMessage reply : replies) {
                    write(json, reply, values);
                }
                json.writeEndArray();
            }
        } catch (IOException impossible) {
            throw new UncheckedIOException("memory can be written to", impossible);
        }
        return out.toByteArray();
    }

    private static void write(JsonGenerator json, RedisMessage reply, String values) throws IOException {
        switch (reply) {
            case SimpleStringRedisMessage text -> json.writeString(text.content());
            case ErrorRedisMessage error -> json.writeString(error.content());
            case IntegerRedisMessage number -> json.writeNumber(number.value());
            case FullBulkStringRedisMessage bulk -> {
                if (bulk.isNull()) {
                    json.writeNull();
                } else {
                    text(json, bulk.content().toString(StandardCharsets.UTF_8), values);
                }
            }
            case ArrayRedisMessage array when array.isNull() -> json.writeNull();
            case ArrayRedisMessage array when values.equals("pairs") && array.children().size() % 2 == 0 -> {
                json.writeStartObject();
                for (int i = 0; i < array.children().size(); i += 2) {
                    json.writeFieldName(name(array.children().get(i)));
                    write(json, array.children().get(i + 1), values);
                }
                json.writeEndObject();
            }
            case ArrayRedisMessage array -> {
                json.writeStartArray();
                for (RedisMessage child : array.children()) {
                    write(json, child, values);
                }
                json.writeEndArray();
            }
            default -> json.writeString(reply.toString());
        }
    }

    private static void text(JsonGenerator json, String text, String values) throws IOException {
        if (values.equals("json")) {
            try {
                json.writeTree(MAPPER.readTree(text));
                return;
            } catch (JsonProcessingException _) {
                // a text that is none stays a text
            }
        }
        json.writeString(text);
    }

    private static String name(RedisMessage reply) {
        return reply instanceof FullBulkStringRedisMessage bulk
                ? bulk.content().toString(StandardCharsets.UTF_8)
                : reply.toString();
    }
}
