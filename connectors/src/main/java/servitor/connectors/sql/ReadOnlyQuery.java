package servitor.connectors.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import net.sf.jsqlparser.JSQLParserException;
import net.sf.jsqlparser.expression.AnalyticExpression;
import net.sf.jsqlparser.expression.Function;
import net.sf.jsqlparser.expression.JdbcNamedParameter;
import net.sf.jsqlparser.parser.CCJSqlParserUtil;
import net.sf.jsqlparser.statement.Statement;
import net.sf.jsqlparser.statement.select.Select;
import net.sf.jsqlparser.statement.select.TableFunction;
import net.sf.jsqlparser.util.deparser.ExpressionDeParser;
import net.sf.jsqlparser.util.deparser.SelectDeParser;
import net.sf.jsqlparser.util.deparser.StatementDeParser;
import org.jspecify.annotations.Nullable;

/**
 * One SELECT, taken apart and put together again with its named inputs as {@code ?}. What isn't a single SELECT, or holds a
 * word that changes or locks something, isn't one.
 *
 * @param text the statement as it is prepared
 * @param inputs the input of each {@code ?}, in order
 */
record ReadOnlyQuery(String text, List<String> inputs) {
    private static final Pattern QUOTED = Pattern.compile("'(?:[^']|'')*'|\"(?:[^\"]|\"\")*\"");
    private static final Pattern CHANGES = Pattern.compile(
            "\\b(insert|update|delete|merge|replace|truncate|create|alter|drop|grant|revoke|call|exec|execute|into|lock|for\\s+update|for\\s+share)\\b",
            Pattern.CASE_INSENSITIVE);

    /** Functions that only compute. A database has others that read files, or reach other systems, in a mere SELECT. */
    private static final Set<String> FUNCTIONS = Set.of(
            "abs",
            "any",
            "avg",
            "cast",
            "ceil",
            "ceiling",
            "char_length",
            "coalesce",
            "concat",
            "count",
            "date_part",
            "date_trunc",
            "dateadd",
            "datediff",
            "day",
            "day_of_month",
            "dense_rank",
            "extract",
            "first_value",
            "floor",
            "greatest",
            "hour",
            "ifnull",
            "lag",
            "last_value",
            "lead",
            "least",
            "left",
            "length",
            "listagg",
            "lower",
            "lpad",
            "ltrim",
            "max",
            "min",
            "minute",
            "mod",
            "month",
            "nullif",
            "nvl",
            "position",
            "power",
            "quarter",
            "rank",
            "replace",
            "right",
            "round",
            "row_number",
            "rpad",
            "rtrim",
            "second",
            "sign",
            "string_agg",
            "substr",
            "substring",
            "sum",
            "to_char",
            "to_date",
            "trim",
            "upper",
            "week",
            "year");

    private static void known(@Nullable String function) {
        if (function == null || !FUNCTIONS.contains(function.toLowerCase(Locale.ROOT))) {
            throw new IllegalArgumentException("‘" + function + "’ isn't among the functions that a query may use: "
                    + String.join(", ", new TreeSet<>(FUNCTIONS)));
        }
    }

    ReadOnlyQuery {
        inputs = List.copyOf(inputs);
    }

    /** Reads {@code sql}; throws {@link IllegalArgumentException} with the reason when it isn't one query that only reads. */
    static ReadOnlyQuery of(String sql) {
        List<String> inputs = new ArrayList<>();
        StringBuilder text = new StringBuilder();
        try {
            List<Statement> statements = CCJSqlParserUtil.parseStatements(sql);
            if (statements == null || statements.size() != 1 || !(statements.get(0) instanceof Select select)) {
                throw new IllegalArgumentException("only a SELECT can be asked");
            }
            ExpressionDeParser expressions = new ExpressionDeParser() {
                @Override
                public <S> StringBuilder visit(JdbcNamedParameter input, S context) {
                    inputs.add(input.getName());
                    return getBuilder().append("?");
                }

                @Override
                public <S> StringBuilder visit(Function function, S context) {
                    known(function.getName());
                    return super.visit(function, context);
                }

                @Override
                public <S> StringBuilder visit(AnalyticExpression function, S context) {
                    known(function.getName());
                    return super.visit(function, context);
                }
            };
            SelectDeParser selects = new SelectDeParser(expressions, text) {
                @Override
                public <S> StringBuilder visit(TableFunction function, S context) {
                    throw new IllegalArgumentException("tables are read from, and no functions in their place");
                }
            };
            expressions.setSelectVisitor(selects);
            expressions.setBuilder(text);
            select.accept(new StatementDeParser(expressions, selects, text), null);
        } catch (JSQLParserException e) {
            throw new IllegalArgumentException("the query can't be read as SQL", e);
        }
        if (CHANGES.matcher(QUOTED.matcher(text).replaceAll("''")).find()) {
            throw new IllegalArgumentException("the query holds a word that changes or locks something");
        }
        return new ReadOnlyQuery(text.toString(), inputs);
    }
}
