package kadrem.standins.berths;

import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

import io.grpc.Server;
import io.grpc.Status;
import io.grpc.netty.NettyServerBuilder;
import io.grpc.protobuf.services.ProtoReflectionServiceV1;
import io.grpc.stub.StreamObserver;
import kadrem.rpc.BerthBoardGrpc;
import kadrem.rpc.BerthReply;
import kadrem.rpc.BerthRequest;
import kadrem.rpc.DayReply;
import kadrem.rpc.DayRequest;
import kadrem.rpc.ReserveAllReply;
import kadrem.rpc.Stay;
import kadrem.rpc.StayRequest;
import kadrem.rpc.TideHeight;
import kadrem.rpc.TidesReply;
import kadrem.rpc.TidesRequest;

/** The berth board as a gRPC service, over the same SQL and with as many threads as the one on a pool. */
public final class GrpcService implements AutoCloseable {
    private static final int THREADS = 8;

    private final Server server;
    private final SqlBoard board;
    private final ExecutorService workers = Executors.newFixedThreadPool(THREADS);

    private GrpcService(int port) throws IOException {
        board = new SqlBoard(THREADS);
        server = NettyServerBuilder.forAddress(new InetSocketAddress(InetAddress.getLoopbackAddress(), port))
                .executor(workers).addService(new Service(board)).addService(ProtoReflectionServiceV1.newInstance())
                .build().start();
    }

    /** @param port 0 for any free one */
    public static GrpcService on(int port) throws IOException {
        return new GrpcService(port);
    }

    public int port() {
        return server.getPort();
    }

    /** Answers until the process ends. */
    public void serve() throws InterruptedException {
        System.out.println("berth-board-grpc answers on 127.0.0.1:" + port());
        server.awaitTermination();
    }

    @Override
    public void close() {
        server.shutdownNow();
        workers.shutdownNow();
        board.close();
    }

    /** From messages to the board and back. */
    private static final class Service extends BerthBoardGrpc.BerthBoardImplBase {
        private final SqlBoard board;

        Service(SqlBoard board) {
            this.board = board;
        }

        private static void refuse(StreamObserver<?> answer, Status status, String why) {
            answer.onError(status.withDescription(why).asRuntimeException());
        }

        private static <T> void give(StreamObserver<T> answer, T message) {
            answer.onNext(message);
            answer.onCompleted();
        }

        @Override
        public void freeBerths(DayRequest asked, StreamObserver<DayReply> answer) {
            Optional<Integer> day = Json.day(asked.getDay());
            if (day.isEmpty()) {
                refuse(answer, Status.INVALID_ARGUMENT, "give the day as 2026-07-14");
                return;
            }
            Board.DayView view = board.day(day.get());
            DayReply.Builder reply = DayReply.newBuilder().setDay(Json.date(view.day())).setFree(view.freeCount())
                    .setTaken(view.takenCount());
            for (Berth berth : view.free()) {
                reply.addBerths(kadrem.rpc.Berth.newBuilder().setId(berth.id()).setQuay(berth.quay())
                        .setNumber(berth.number()).setLength(berth.length()).setDepth(berth.depth() / 10.0));
            }
            give(answer, reply.build());
        }

        @Override
        public void getBerth(BerthRequest asked, StreamObserver<BerthReply> answer) {
            Optional<BerthReply> found = berth(asked.getId());
            if (found.isPresent()) {
                give(answer, found.get());
            } else {
                refuse(answer, Status.NOT_FOUND, "no such berth");
            }
        }

        private Optional<BerthReply> berth(int id) {
            return board.berth(id).map(view -> {
                Berth berth = view.berth();
                BerthReply.Builder reply = BerthReply.newBuilder().setId(berth.id()).setQuay(berth.quay())
                        .setNumber(berth.number()).setLength(berth.length()).setDepth(berth.depth() / 10.0);
                view.reservations().forEach(one -> reply.addReservations(stay(one)));
                return reply.build();
            });
        }

        private static Stay stay(Reservation reservation) {
            return Stay.newBuilder().setReservation(reservation.id()).setBerth(reservation.berth())
                    .setDay(Json.date(reservation.day())).setNights(reservation.nights())
                    .setVessel(reservation.vessel()).build();
        }

        @Override
        public void reserve(StayRequest asked, StreamObserver<Stay> answer) {
            Optional<Reservation> wanted = wanted(asked);
            if (wanted.isEmpty()) {
                refuse(answer, Status.INVALID_ARGUMENT, "give berth, day, nights (1 to 14) and vessel");
                return;
            }
            Reservation stay = wanted.get();
            if (board.berth(stay.berth()).isEmpty()) {
                refuse(answer, Status.NOT_FOUND, "no such berth");
                return;
            }
            OptionalLong id = board.reserve(stay);
            if (id.isEmpty()) {
                refuse(answer, Status.ALREADY_EXISTS, "the berth is taken");
            } else {
                give(answer, stay(new Reservation(id.getAsLong(), stay.berth(), stay.day(), stay.nights(),
                        stay.vessel())));
            }
        }

        private static Optional<Reservation> wanted(StayRequest asked) {
            Optional<Integer> day = Json.day(asked.getDay());
            boolean valid = asked.getBerth() > 0 && asked.getNights() > 0
                    && asked.getNights() <= Reservation.MAX_NIGHTS && day.isPresent() && !asked.getVessel().isBlank()
                    && asked.getVessel().length() <= 80;
            return valid
                    ? Optional.of(new Reservation(0, asked.getBerth(), day.get(), asked.getNights(),
                            asked.getVessel()))
                    : Optional.empty();
        }

        private static Optional<TidesReply> tides(TidesRequest asked) {
            return Json.day(asked.getDay()).flatMap(day -> Tides.day(asked.getStation(), day).map(heights -> {
                TidesReply.Builder reply = TidesReply.newBuilder().setStation(asked.getStation())
                        .setDay(Json.date(day));
                for (Tides.Height height : heights) {
                    reply.addHeights(TideHeight.newBuilder().setTime(Json.time(height)).setMetres(Json.metres(height)));
                }
                return reply.build();
            }));
        }

        @Override
        public void getTides(TidesRequest asked, StreamObserver<TidesReply> answer) {
            Optional<TidesReply> found = tides(asked);
            if (found.isPresent()) {
                give(answer, found.get());
            } else {
                refuse(answer, Status.NOT_FOUND, "no such station or day");
            }
        }

        @Override
        public void streamTides(TidesRequest asked, StreamObserver<TideHeight> answer) {
            Optional<TidesReply> found = tides(asked);
            if (found.isPresent()) {
                found.get().getHeightsList().forEach(answer::onNext);
                answer.onCompleted();
            } else {
                refuse(answer, Status.NOT_FOUND, "no such station or day");
            }
        }

        @Override
        public StreamObserver<StayRequest> reserveAll(StreamObserver<ReserveAllReply> answer) {
            return new StreamObserver<>() {
                private int booked;
                private int taken;

                @Override
                public void onNext(StayRequest asked) {
                    if (wanted(asked).map(board::reserve).orElse(OptionalLong.empty()).isPresent()) {
                        booked++;
                    } else {
                        taken++;
                    }
                }

                @Override
                public void onError(Throwable cause) {
                    // the caller is gone
                }

                @Override
                public void onCompleted() {
                    give(answer, ReserveAllReply.newBuilder().setBooked(booked).setTaken(taken).build());
                }
            };
        }

        @Override
        public StreamObserver<BerthRequest> askBerths(StreamObserver<BerthReply> answer) {
            return new StreamObserver<>() {
                private boolean ended;

                @Override
                public void onNext(BerthRequest asked) {
                    Optional<BerthReply> found = ended ? Optional.empty() : berth(asked.getId());
                    if (found.isPresent()) {
                        answer.onNext(found.get());
                    } else if (!ended) {
                        ended = true;
                        refuse(answer, Status.NOT_FOUND, "no such berth");
                    }
                }

                @Override
                public void onError(Throwable cause) {
                    ended = true;
                }

                @Override
                public void onCompleted() {
                    if (!ended) {
                        answer.onCompleted();
                    }
                }
            };
        }
    }
}
