package servitor.service.ledger;

import java.util.List;
import java.util.function.UnaryOperator;
import org.apache.ibatis.mapping.Environment;
import org.apache.ibatis.session.Configuration;
import org.apache.ibatis.session.ExecutorType;
import org.apache.ibatis.session.LocalCacheScope;
import org.apache.ibatis.session.SqlSessionFactoryBuilder;
import org.h2.jdbcx.JdbcDataSource;
import org.mybatis.spring.SqlSessionTemplate;
import org.mybatis.spring.transaction.SpringManagedTransactionFactory;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.support.JdbcTransactionManager;

/** The real tables in memory, without the rest of the service. */
final class MemoryDatabase {
    private static final List<String> SCRIPTS = List.of(
            "V1__ledger",
            "V2__went_wrong",
            "V3__moving_out",
            "V4__at_once",
            "V5__limits",
            "V6__reminders",
            "V7__signing_in",
            "V8__waiting_by_connection",
            "V9__stops_and_epochs");
    private static final List<Class<?>> MAPPERS = List.of(
            PersonMapper.class,
            ConnectionMapper.class,
            EditionMapper.class,
            CaseMapper.class,
            RunMapper.class,
            ApprovalMapper.class,
            TrailMapper.class,
            WrongMapper.class,
            CounterMapper.class,
            StopMapper.class);

    final JdbcTemplate sql;
    final JdbcTransactionManager transactions;
    final Ledger ledger;

    MemoryDatabase(String name) {
        this(name, trail -> trail);
    }

    /** The same, with what is made of the trail's table. */
    MemoryDatabase(String name, UnaryOperator<TrailMapper> trail) {
        JdbcDataSource source = new JdbcDataSource();
        source.setURL("jdbc:h2:mem:" + name + ";DB_CLOSE_DELAY=-1;QUERY_CACHE_SIZE=200");
        source.setUser("sa");
        sql = new JdbcTemplate(source);
        transactions = new JdbcTransactionManager(source);
        Configuration configuration =
                new Configuration(new Environment("test", new SpringManagedTransactionFactory(), source));
        configuration.setMapUnderscoreToCamelCase(true);
        configuration.setArgNameBasedConstructorAutoMapping(true);
        configuration.setLocalCacheScope(LocalCacheScope.STATEMENT);
        configuration.setDefaultExecutorType(ExecutorType.REUSE);
        MAPPERS.forEach(configuration::addMapper);
        SqlSessionTemplate session = new SqlSessionTemplate(new SqlSessionFactoryBuilder().build(configuration));
        ledger = new Ledger(
                session.getMapper(PersonMapper.class),
                session.getMapper(ConnectionMapper.class),
                session.getMapper(EditionMapper.class),
                session.getMapper(CaseMapper.class),
                session.getMapper(RunMapper.class),
                session.getMapper(ApprovalMapper.class),
                trail.apply(session.getMapper(TrailMapper.class)),
                session.getMapper(WrongMapper.class),
                session.getMapper(CounterMapper.class),
                session.getMapper(StopMapper.class));
    }

    /** Empty tables, as a new version finds them. */
    void empty() {
        sql.execute("drop all objects");
        SCRIPTS.forEach(script -> sql.execute("runscript from 'classpath:db/migration/" + script + ".sql'"));
    }
}
