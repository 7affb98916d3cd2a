package servitor.connectors.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import net.sf.jsqlparser.JSQLParserException;
import net.sf.jsqlparser.expression.JdbcNamedParameter;
import net.sf.jsqlparser.parser.CCJSqlParserUtil;
import net.sf.jsqlparser.statement.Statement;
import net.sf.jsqlparser.statement.select.Select;
import net.sf.jsqlparser.util.deparser.ExpressionDeParser;
import net.sf.jsqlparser.util.deparser.SelectDeParser;
import net.sf.jsqlparser.util.deparser.StatementDeParser;

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
            };
            SelectDeParser selects = new SelectDeParser(expressions, text);
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
