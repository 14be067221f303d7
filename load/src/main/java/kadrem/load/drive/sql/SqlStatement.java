package kadrem.load.drive.sql;

import java.util.ArrayList;
import java.util.List;

import kadrem.core.study.Body;
import kadrem.core.study.Call;
import kadrem.core.study.Form;
import kadrem.core.study.ValueList;
import kadrem.load.drive.CallValues;
import kadrem.load.drive.DriverOrder;
import kadrem.load.drive.Template;
import kadrem.load.content.UnusableCall;

/** One call compiled: its statement, its parameters, and what is expected of its rows. */
record SqlStatement(List<String> pieces, String sql, List<Parameter> parameters, boolean keys, long least, long most) {

    /** @param number whether it comes from a list of whole numbers */
    record Parameter(Template text, boolean number) {
        Object value(CallValues values) {
            String filled = text.fill(values);
            return number ? (Object) Long.valueOf(filled) : filled;
        }
    }

    static SqlStatement of(Call call, DriverOrder order) throws UnusableCall {
        Form form = call.form(SqlProtocol.ID)
                .orElseThrow(() -> new UnusableCall("the call " + call.name() + " is not asked in sql"));
        List<String> pieces = SqlText.pieces(form.text("statement"));
        var parameters = new ArrayList<Parameter>();
        for (int i = 1; i < pieces.size(); i += 2) {
            String name = pieces.get(i);
            boolean number = order.workload().values().stream().filter(list -> list.name().equals(name))
                    .anyMatch(list -> list instanceof ValueList.NumberRange || list instanceof ValueList.Zipf);
            parameters.add(new Parameter(Template.of(order.slots(), Body.Kind.TEXT, "{{" + name + "}}"), number));
        }
        String rows = form.text("rows").strip();
        String[] bounds = rows.split("-", 2);
        long least = rows.isEmpty() ? 0 : Long.parseLong(bounds[0]);
        long most = rows.isEmpty() || bounds.length > 1 && bounds[1].isEmpty()
                ? Long.MAX_VALUE
                : Long.parseLong(bounds[bounds.length - 1]);
        return new SqlStatement(pieces, SqlText.withMarks(pieces), List.copyOf(parameters),
                form.text("keys").equals("generated"), least, most);
    }

    List<Object> values(CallValues values) {
        var made = new ArrayList<Object>(parameters.size());
        for (int i = 0; i < parameters.size(); i++) {
            made.add(parameters.get(i).value(values));
        }
        return made;
    }

    /** The statement and its parameters, for people. */
    String shown(CallValues values) {
        var shown = new StringBuilder(sql);
        for (int i = 0; i < parameters.size(); i++) {
            shown.append(i == 0 ? "\n\nparameters\n" : "\n").append(i + 1).append("  ")
                    .append(parameters.get(i).text().shown(values));
        }
        return shown.toString();
    }

    /** What is wrong with a number of rows; empty where nothing is. */
    String objection(long rows) {
        return rows >= least && rows <= most
                ? ""
                : rows + (rows == 1 ? " row" : " rows") + ", and not "
                        + (most == Long.MAX_VALUE
                                ? "at least " + least
                                : least == most ? "" + least : least + " to " + most);
    }
}
