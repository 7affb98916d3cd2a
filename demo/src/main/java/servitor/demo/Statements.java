package servitor.demo;

import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import org.apache.ibatis.executor.Executor;
import org.apache.ibatis.mapping.MappedStatement;
import org.apache.ibatis.plugin.Interceptor;
import org.apache.ibatis.plugin.Intercepts;
import org.apache.ibatis.plugin.Invocation;
import org.apache.ibatis.plugin.Signature;
import org.apache.ibatis.session.ResultHandler;
import org.apache.ibatis.session.RowBounds;

/** Counts the statements that the writer makes, by mapper and method. */
@Intercepts({
    @Signature(
            type = Executor.class,
            method = "update",
            args = {MappedStatement.class, Object.class}),
    @Signature(
            type = Executor.class,
            method = "query",
            args = {MappedStatement.class, Object.class, RowBounds.class, ResultHandler.class})
})
public final class Statements implements Interceptor {
    private final Map<String, Long> counts = new ConcurrentHashMap<>();

    @Override
    public Object intercept(Invocation invocation) throws Throwable {
        if (Thread.currentThread().getName().equals("writer")) {
            String id = ((MappedStatement) invocation.getArgs()[0]).getId();
            String[] parts = id.split("\\.");
            counts.merge(parts[parts.length - 2] + "." + parts[parts.length - 1], 1L, Long::sum);
        }
        return invocation.proceed();
    }

    void clear() {
        counts.clear();
    }

    Map<String, Long> counted() {
        return new TreeMap<>(counts);
    }
}
