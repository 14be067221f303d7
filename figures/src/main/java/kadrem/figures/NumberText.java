package kadrem.figures;

import java.text.FieldPosition;
import java.text.NumberFormat;
import java.text.ParsePosition;
import java.util.function.DoubleFunction;

/** Axis labels written by a function, for JFreeChart which asks for a {@link NumberFormat}. */
public final class NumberText extends NumberFormat {
    private static final long serialVersionUID = 1L;
    private final transient DoubleFunction<String> text;

    /** At most three digits after the point. */
    public static String plain(double number) {
        return NumberFormat.getInstance(java.util.Locale.ROOT).format(number);
    }

    public NumberText(DoubleFunction<String> text) {
        this.text = text;
    }

    @Override
    public StringBuffer format(double number, StringBuffer to, FieldPosition position) {
        return to.append(text.apply(number));
    }

    @Override
    public StringBuffer format(long number, StringBuffer to, FieldPosition position) {
        return to.append(text.apply(number));
    }

    @Override
    public Number parse(String source, ParsePosition position) {
        throw new UnsupportedOperationException("labels are only written");
    }
}
