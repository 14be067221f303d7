package kadrem.work;

/** Something was not done, and nothing was changed; the objection says why. */
public final class NotDone extends Exception {
    private static final long serialVersionUID = 1L;

    private final transient Objection objection;

    public NotDone(Objection objection) {
        super(objection.words());
        this.objection = objection;
    }

    public NotDone(String words) {
        this(new Objection.Said(words));
    }

    public Objection objection() {
        return objection;
    }
}
