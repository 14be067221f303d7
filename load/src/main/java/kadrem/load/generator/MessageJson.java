package kadrem.load.generator;

import java.io.IOException;

import com.fasterxml.jackson.annotation.JsonAutoDetect;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import com.fasterxml.jackson.annotation.PropertyAccessor;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.databind.DeserializationContext;
import com.fasterxml.jackson.databind.JavaType;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.SerializerProvider;
import com.fasterxml.jackson.databind.deser.std.StdDeserializer;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.databind.jsontype.BasicPolymorphicTypeValidator;
import com.fasterxml.jackson.databind.module.SimpleModule;
import com.fasterxml.jackson.databind.ser.std.StdSerializer;
import com.fasterxml.jackson.datatype.jdk8.Jdk8Module;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import kadrem.core.study.Bytes;

/**
 * Messages as JSON, field by field as their records have them. Of closed kinds the name of the record is written beside its
 * fields, and only records of Kadrem's own are made when it is read.
 */
final class MessageJson {
    private static final ObjectMapper MAPPER = mapper();

    private MessageJson() {
    }

    private static ObjectMapper mapper() {
        var own = BasicPolymorphicTypeValidator.builder().allowIfSubType("kadrem.core.")
                .allowIfSubType("kadrem.load.").build();
        var kinds = new ObjectMapper.DefaultTypeResolverBuilder(ObjectMapper.DefaultTyping.NON_FINAL, own) {
            private static final long serialVersionUID = 1L;

            @Override
            public boolean useForType(JavaType type) {
                return type.getRawClass().isSealed();
            }
        };
        var bytes = new SimpleModule().addSerializer(Bytes.class, new BytesWriter()).addDeserializer(Bytes.class,
                new BytesReader());
        JsonMapper made = JsonMapper.builder().addModule(new Jdk8Module()).addModule(new JavaTimeModule())
                .addModule(bytes).disable(SerializationFeature.WRITE_DURATIONS_AS_TIMESTAMPS)
                .disable(SerializationFeature.WRITE_DATES_AS_TIMESTAMPS)
                .visibility(PropertyAccessor.GETTER, JsonAutoDetect.Visibility.NONE)
                .visibility(PropertyAccessor.IS_GETTER, JsonAutoDetect.Visibility.NONE)
                .visibility(PropertyAccessor.SETTER, JsonAutoDetect.Visibility.NONE)
                .visibility(PropertyAccessor.FIELD, JsonAutoDetect.Visibility.ANY).build();
        made.setDefaultTyping(kinds.init(JsonTypeInfo.Id.CLASS, null).inclusion(JsonTypeInfo.As.PROPERTY)
                .typeProperty("is"));
        return made;
    }

    static byte[] write(Message message) throws IOException {
        return MAPPER.writerFor(Message.class).writeValueAsBytes(message);
    }

    /** @throws IOException if it is none of Kadrem's messages */
    static Message read(byte[] json) throws IOException {
        return MAPPER.readValue(json, Message.class);
    }

    private static final class BytesWriter extends StdSerializer<Bytes> {
        private static final long serialVersionUID = 1L;

        BytesWriter() {
            super(Bytes.class);
        }

        @Override
        public void serialize(Bytes bytes, JsonGenerator out, SerializerProvider provider) throws IOException {
            out.writeBinary(bytes.toArray());
        }
    }

    private static final class BytesReader extends StdDeserializer<Bytes> {
        private static final long serialVersionUID = 1L;

        BytesReader() {
            super(Bytes.class);
        }

        @Override
        public Bytes deserialize(JsonParser in, DeserializationContext context) throws IOException {
            return Bytes.of(in.getBinaryValue());
        }
    }
}
