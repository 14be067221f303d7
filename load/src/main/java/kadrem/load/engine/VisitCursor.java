package kadrem.load.engine;

import java.util.function.IntConsumer;

import kadrem.core.plan.LoadStream;

/** Where a visit stands: its call under way, and whether another follows. Before the visit its user may make the first part. */
final class VisitCursor {
    private final CompiledLoad load;
    final LoadStream.Draw draw;
    /** Step of the visit, or of the first part while {@link #inFirst}. */
    private int step;
    private boolean inFirst;
    private boolean onlyFirst;
    private int callsBegun;
    private int call;

    /** What follows on a call. */
    enum Next {
        /** Another call of the visit. */
        CALL,
        /** Another call; the first part is done, the visit itself begins. */
        VISIT,
        /** Nothing: the visit is over. */
        NOTHING,
        /** Nothing: a call of the first part failed, so that the visit cannot begin. */
        CANNOT_BEGIN,
        /** Nothing: the first part is done, and only that was asked for. */
        INTRODUCED
    }

    VisitCursor(CompiledLoad load) {
        this.load = load;
        draw = load.stream.newDraw();
    }

    /** Begins the visit that was drawn. */
    void begin(boolean withFirstPart) {
        step = 0;
        callsBegun = 0;
        inFirst = withFirstPart && load.firstPart > 0;
        onlyFirst = false;
    }

    /** Begins the first part without a visit. */
    void beginFirstPart() {
        begin(true);
        onlyFirst = true;
    }

    /** Goes on to the next call and draws its values. */
    int next() {
        call = inFirst ? step : load.callOf(draw.visit(), step);
        load.stream.drawCall(callsBegun++, draw);
        return call;
    }

    int call() {
        return call;
    }

    /** Tells the calls of the visit that are not made any more, since it has ended before them. */
    void eachLeft(IntConsumer call) {
        for (int i = inFirst ? 0 : step; !onlyFirst && i < load.stepsOf(draw.visit()); i++) {
            call.accept(load.callOf(draw.visit(), i));
        }
    }

    /** The pause that the user makes after the present call. */
    long pause() {
        return load.pauseAfter(call, callsBegun, draw);
    }

    /** Takes the end of the present call: a visit goes on after a whole answer and ends with a failed call. */
    Next ended(boolean goesOn) {
        if (!inFirst) {
            step++;
            return goesOn && step < load.stepsOf(draw.visit()) ? Next.CALL : Next.NOTHING;
        }
        if (!goesOn) {
            inFirst = false;
            step = 0;
            return Next.CANNOT_BEGIN;
        }
        if (++step < load.firstPart) {
            return Next.CALL;
        }
        inFirst = false;
        step = 0;
        return onlyFirst ? Next.INTRODUCED : Next.VISIT;
    }
}
