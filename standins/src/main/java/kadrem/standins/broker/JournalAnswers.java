package kadrem.standins.broker;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;

import org.apache.kafka.common.errors.ApiException;
import org.apache.kafka.common.message.ApiVersionsResponseData;
import org.apache.kafka.common.message.CreateTopicsRequestData;
import org.apache.kafka.common.message.CreateTopicsResponseData;
import org.apache.kafka.common.message.DeleteRecordsRequestData;
import org.apache.kafka.common.message.DeleteRecordsResponseData;
import org.apache.kafka.common.message.DescribeClusterResponseData;
import org.apache.kafka.common.message.FetchRequestData;
import org.apache.kafka.common.message.FetchResponseData;
import org.apache.kafka.common.message.InitProducerIdResponseData;
import org.apache.kafka.common.message.ListOffsetsRequestData;
import org.apache.kafka.common.message.ListOffsetsResponseData;
import org.apache.kafka.common.message.MetadataRequestData;
import org.apache.kafka.common.message.MetadataResponseData;
import org.apache.kafka.common.message.ProduceRequestData;
import org.apache.kafka.common.message.ProduceResponseData;
import org.apache.kafka.common.protocol.ApiKeys;
import org.apache.kafka.common.protocol.ApiMessage;
import org.apache.kafka.common.protocol.Errors;
import org.apache.kafka.common.record.internal.MemoryRecords;
import org.apache.kafka.common.requests.ListOffsetsRequest;
import org.apache.kafka.common.requests.RequestHeader;
import org.jspecify.annotations.Nullable;

/** What the journal answers to each kind of request: one broker that leads every partition. */
final class JournalAnswers {
    private static final String CLUSTER = "kadrem-journal";
    private static final int BROKER = 0;
    private static final short ONE_COPY = 1;
    /** The lowest and highest versions that are spoken; above them topics go by their ids alone. */
    private static final Map<ApiKeys, short[]> SPOKEN = new EnumMap<>(Map.of(
            ApiKeys.API_VERSIONS, new short[]{0, 3},
            ApiKeys.METADATA, new short[]{0, 12},
            ApiKeys.PRODUCE, new short[]{3, 11},
            ApiKeys.FETCH, new short[]{4, 12},
            ApiKeys.LIST_OFFSETS, new short[]{1, 7},
            ApiKeys.DESCRIBE_CLUSTER, new short[]{0, 0},
            ApiKeys.CREATE_TOPICS, new short[]{2, 6},
            ApiKeys.DELETE_RECORDS, new short[]{0, 2},
            ApiKeys.INIT_PRODUCER_ID, new short[]{0, 4}));

    private final JournalTopics topics;
    private final String host;
    private final int port;
    private final AtomicLong producers = new AtomicLong();

    /** @param host and port where clients find this broker */
    JournalAnswers(JournalTopics topics, String host, int port) {
        this.topics = topics;
        this.host = host;
        this.port = port;
    }

    static boolean isSpoken(RequestHeader header) {
        short[] versions = SPOKEN.get(header.apiKey());
        return versions != null && header.apiVersion() >= versions[0] && header.apiVersion() <= versions[1];
    }

    /** @return null where the client waits for none */
    @Nullable
    ApiMessage to(RequestHeader header, ApiMessage request) throws InterruptedException {
        return switch (header.apiKey()) {
            case API_VERSIONS -> versions(Errors.NONE);
            case METADATA -> metadata((MetadataRequestData) request, header.apiVersion());
            case PRODUCE -> produce((ProduceRequestData) request);
            case FETCH -> fetch((FetchRequestData) request);
            case LIST_OFFSETS -> offsets((ListOffsetsRequestData) request);
            case DESCRIBE_CLUSTER -> cluster();
            case CREATE_TOPICS -> create((CreateTopicsRequestData) request);
            case DELETE_RECORDS -> delete((DeleteRecordsRequestData) request);
            case INIT_PRODUCER_ID -> new InitProducerIdResponseData().setProducerId(producers.incrementAndGet())
                    .setProducerEpoch((short) 0);
            default -> throw new IllegalArgumentException("not spoken: " + header.apiKey());
        };
    }

    /** Answered also to a version of this request that is not known. */
    static ApiVersionsResponseData versions(Errors error) {
        var all = new ApiVersionsResponseData.ApiVersionCollection();
        SPOKEN.forEach((key, versions) -> all.add(new ApiVersionsResponseData.ApiVersion().setApiKey(key.id)
                .setMinVersion(versions[0]).setMaxVersion(versions[1])));
        return new ApiVersionsResponseData().setErrorCode(error.code()).setApiKeys(all);
    }

    private MetadataResponseData metadata(MetadataRequestData request, short version) {
        var brokers = new MetadataResponseData.MetadataResponseBrokerCollection();
        brokers.add(new MetadataResponseData.MetadataResponseBroker().setNodeId(BROKER).setHost(host).setPort(port));
        var told = new MetadataResponseData.MetadataResponseTopicCollection();
        // in the first version an empty list is all of them
        if (request.topics() == null || version == 0 && request.topics().isEmpty()) {
            topics.all().forEach(topic -> told.add(told(topic)));
        } else {
            request.topics().forEach(wanted -> told.add(wanted.name() == null
                    ? new MetadataResponseData.MetadataResponseTopic().setTopicId(wanted.topicId())
                            .setErrorCode(Errors.UNKNOWN_TOPIC_ID.code())
                    : told(wanted.name(), request.allowAutoTopicCreation())));
        }
        return new MetadataResponseData().setBrokers(brokers).setClusterId(CLUSTER).setControllerId(BROKER)
                .setTopics(told);
    }

    private MetadataResponseData.MetadataResponseTopic told(String name, boolean makes) {
        try {
            return topics.find(name).map(JournalAnswers::told).orElseGet(() -> makes
                    ? told(topics.make(name, 0))
                    : new MetadataResponseData.MetadataResponseTopic().setName(name)
                            .setErrorCode(Errors.UNKNOWN_TOPIC_OR_PARTITION.code()));
        } catch (ApiException cause) {
            return new MetadataResponseData.MetadataResponseTopic().setName(name)
                    .setErrorCode(Errors.forException(cause).code());
        }
    }

    private static MetadataResponseData.MetadataResponseTopic told(JournalTopics.Entry topic) {
        var partitions = new java.util.ArrayList<MetadataResponseData.MetadataResponsePartition>();
        for (int i = 0; i < topic.partitions().size(); i++) {
            partitions.add(new MetadataResponseData.MetadataResponsePartition().setPartitionIndex(i).setLeaderId(BROKER)
                    .setLeaderEpoch(0).setReplicaNodes(List.of(BROKER)).setIsrNodes(List.of(BROKER)));
        }
        return new MetadataResponseData.MetadataResponseTopic().setName(topic.name()).setTopicId(topic.id())
                .setPartitions(partitions);
    }

    private @Nullable ProduceResponseData produce(ProduceRequestData request) {
        var responses = new ProduceResponseData.TopicProduceResponseCollection();
        for (ProduceRequestData.TopicProduceData topic : request.topicData()) {
            responses.add(new ProduceResponseData.TopicProduceResponse().setName(topic.name()).setPartitionResponses(
                    topic.partitionData().stream().map(one -> produce(topic.name(), one)).toList()));
        }
        topics.written();
        return request.acks() == 0 ? null : new ProduceResponseData().setResponses(responses);
    }

    private ProduceResponseData.PartitionProduceResponse produce(String topic,
            ProduceRequestData.PartitionProduceData data) {
        var response = new ProduceResponseData.PartitionProduceResponse().setIndex(data.index());
        return topics.partition(topic, data.index()).map(log -> {
            try {
                return response.setBaseOffset(log.append((MemoryRecords) data.records()))
                        .setLogStartOffset(log.start());
            } catch (ApiException cause) {
                return response.setErrorCode(Errors.forException(cause).code());
            }
        }).orElseGet(() -> response.setErrorCode(Errors.UNKNOWN_TOPIC_OR_PARTITION.code()));
    }

    /** Waits as long as the client says for there to be something new. */
    private FetchResponseData fetch(FetchRequestData request) throws InterruptedException {
        long until = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(request.maxWaitMs());
        while (true) {
            long known = topics.writings();
            List<FetchResponseData.FetchableTopicResponse> found = request.topics().stream()
                    .map(topic -> new FetchResponseData.FetchableTopicResponse().setTopic(topic.topic()).setPartitions(
                            topic.partitions().stream().map(one -> fetch(topic.topic(), one)).toList()))
                    .toList();
            boolean worth = found.stream().flatMap(one -> one.partitions().stream())
                    .anyMatch(one -> one.errorCode() != 0 || one.records().sizeInBytes() > 0);
            if (worth || System.nanoTime() >= until) {
                return new FetchResponseData().setResponses(found);
            }
            topics.awaitWriting(known, until);
        }
    }

    private FetchResponseData.PartitionData fetch(String topic, FetchRequestData.FetchPartition wanted) {
        var data = new FetchResponseData.PartitionData().setPartitionIndex(wanted.partition())
                .setRecords(MemoryRecords.EMPTY);
        return topics.partition(topic, wanted.partition()).map(log -> {
            long end = log.end();
            data.setHighWatermark(end).setLastStableOffset(end).setLogStartOffset(log.start());
            return wanted.fetchOffset() < log.start() || wanted.fetchOffset() > end
                    ? data.setErrorCode(Errors.OFFSET_OUT_OF_RANGE.code())
                    : data.setRecords(log.read(wanted.fetchOffset(), wanted.partitionMaxBytes()));
        }).orElseGet(() -> data.setErrorCode(Errors.UNKNOWN_TOPIC_OR_PARTITION.code()));
    }

    private ListOffsetsResponseData offsets(ListOffsetsRequestData request) {
        return new ListOffsetsResponseData().setTopics(request.topics().stream()
                .map(topic -> new ListOffsetsResponseData.ListOffsetsTopicResponse().setName(topic.name())
                        .setPartitions(topic.partitions().stream().map(one -> offset(topic.name(), one)).toList()))
                .toList());
    }

    /** The oldest where that is asked for, and the end otherwise: records are not looked up by their time. */
    private ListOffsetsResponseData.ListOffsetsPartitionResponse offset(String topic,
            ListOffsetsRequestData.ListOffsetsPartition wanted) {
        var response = new ListOffsetsResponseData.ListOffsetsPartitionResponse()
                .setPartitionIndex(wanted.partitionIndex()).setLeaderEpoch(0);
        return topics.partition(topic, wanted.partitionIndex())
                .map(log -> response.setOffset(wanted.timestamp() == ListOffsetsRequest.EARLIEST_TIMESTAMP
                        ? log.start()
                        : log.end()))
                .orElseGet(() -> response.setErrorCode(Errors.UNKNOWN_TOPIC_OR_PARTITION.code()));
    }

    private DescribeClusterResponseData cluster() {
        var brokers = new DescribeClusterResponseData.DescribeClusterBrokerCollection();
        brokers.add(new DescribeClusterResponseData.DescribeClusterBroker().setBrokerId(BROKER).setHost(host)
                .setPort(port));
        return new DescribeClusterResponseData().setClusterId(CLUSTER).setControllerId(BROKER).setBrokers(brokers);
    }

    private CreateTopicsResponseData create(CreateTopicsRequestData request) {
        var results = new CreateTopicsResponseData.CreatableTopicResultCollection();
        request.topics().forEach(wanted -> results.add(created(wanted, request.validateOnly())));
        return new CreateTopicsResponseData().setTopics(results);
    }

    private CreateTopicsResponseData.CreatableTopicResult created(CreateTopicsRequestData.CreatableTopic wanted,
            boolean onlyLooks) {
        var result = new CreateTopicsResponseData.CreatableTopicResult().setName(wanted.name());
        if (topics.find(wanted.name()).isPresent()) {
            return result.setErrorCode(Errors.TOPIC_ALREADY_EXISTS.code());
        }
        if (wanted.replicationFactor() > ONE_COPY) {
            return result.setErrorCode(Errors.INVALID_REPLICATION_FACTOR.code())
                    .setErrorMessage("there is one broker, and so one copy");
        }
        try {
            if (!onlyLooks) {
                JournalTopics.Entry made = topics.make(wanted.name(), wanted.numPartitions());
                result.setTopicId(made.id()).setNumPartitions(made.partitions().size());
            }
            return result.setReplicationFactor(ONE_COPY);
        } catch (ApiException cause) {
            return result.setErrorCode(Errors.forException(cause).code());
        }
    }

    private DeleteRecordsResponseData delete(DeleteRecordsRequestData request) {
        var results = new DeleteRecordsResponseData.DeleteRecordsTopicResultCollection();
        for (DeleteRecordsRequestData.DeleteRecordsTopic topic : request.topics()) {
            var partitions = new DeleteRecordsResponseData.DeleteRecordsPartitionResultCollection();
            topic.partitions().forEach(one -> partitions.add(deleted(topic.name(), one)));
            results.add(new DeleteRecordsResponseData.DeleteRecordsTopicResult().setName(topic.name())
                    .setPartitions(partitions));
        }
        return new DeleteRecordsResponseData().setTopics(results);
    }

    private DeleteRecordsResponseData.DeleteRecordsPartitionResult deleted(String topic,
            DeleteRecordsRequestData.DeleteRecordsPartition wanted) {
        var result = new DeleteRecordsResponseData.DeleteRecordsPartitionResult()
                .setPartitionIndex(wanted.partitionIndex());
        return topics.partition(topic, wanted.partitionIndex())
                .map(log -> result.setLowWatermark(log.forget(wanted.offset() < 0 ? log.end() : wanted.offset())))
                .orElseGet(() -> result.setErrorCode(Errors.UNKNOWN_TOPIC_OR_PARTITION.code()));
    }
}
