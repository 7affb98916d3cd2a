package servitor.service.ledger;

import java.util.List;
import java.util.function.UnaryOperator;
import javax.sql.DataSource;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.session.Configuration;
import org.apache.ibatis.session.ExecutorType;
import org.apache.ibatis.session.LocalCacheScope;
import org.apache.ibatis.session.SqlSessionFactory;
import org.h2.jdbcx.JdbcDataSource;
import org.mybatis.spring.SqlSessionFactoryBean;
import org.mybatis.spring.annotation.MapperScan;
import org.springframework.context.annotation.AnnotationConfigApplicationContext;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.ComponentScan;
import org.springframework.context.annotation.ComponentScan.Filter;
import org.springframework.context.annotation.FilterType;
import org.springframework.core.env.MapPropertySource;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.support.JdbcTransactionManager;

/** The real tables in memory with the stores of all features, without the rest of the service. */
public final class MemoryDatabase {
    private static final List<String> SCRIPTS = List.of(
            "V1__ledger",
            "V2__went_wrong",
            "V3__moving_out",
            "V4__at_once",
            "V5__limits",
            "V6__reminders",
            "V7__signing_in",
            "V8__waiting_by_connection",
            "V9__stops_and_epochs",
            "V10__who_is_asked",
            "V12__runs_listed",
            "V13__lists_in_order",
            "V14__authorities",
            "V15__sign_in_by_browser",
            "V16__mail",
            "V17__messages",
            "V18__due",
            "V19__payloads",
            "V20__outside_events",
            "V21__schedules",
            "V22__related_cases",
            "V23__public_forms",
            "V24__followed_files",
            "V25__read_documents",
            "V26__tables_of_documents",
            "V27__working_titles",
            "V28__deputies",
            "V29__asked_by_mail",
            "V30__tries",
            "V31__publishing_asked",
            "V32__what_was_agreed");

    private final AnnotationConfigApplicationContext context = new AnnotationConfigApplicationContext();
    private final UnaryOperator<TrailMapper> trail;
    public final JdbcTemplate sql;
    public final JdbcTransactionManager transactions;

    public MemoryDatabase(String name) {
        this(name, mapper -> mapper);
    }

    /** The same, with what is made of the trail's table. */
    MemoryDatabase(String name, UnaryOperator<TrailMapper> trail) {
        this.trail = trail;
        context.getEnvironment()
                .getPropertySources()
                .addFirst(new MapPropertySource("test", java.util.Map.of("memory", name)));
        context.register(Stores.class);
        context.refresh();
        sql = new JdbcTemplate(get(DataSource.class));
        transactions = get(JdbcTransactionManager.class);
    }

    /** What else is built on the stores. */
    AnnotationConfigApplicationContext context() {
        return context;
    }

    /** A store, or one of the mappers beneath. */
    public <T> T get(Class<T> type) {
        return context.getBean(type);
    }

    /** The trail's table, as the writer is to see it. */
    TrailMapper trail() {
        return trail.apply(get(TrailMapper.class));
    }

    /** Empty tables, as a new version finds them. */
    public void empty() {
        sql.execute("drop all objects");
        SCRIPTS.forEach(script -> sql.execute("runscript from 'classpath:db/migration/" + script + ".sql'"));
    }

    @MapperScan(basePackages = "servitor.service", annotationClass = Mapper.class)
    @ComponentScan(
            basePackages = "servitor.service",
            useDefaultFilters = false,
            includeFilters =
                    @Filter(
                            type = FilterType.REGEX,
                            pattern = "servitor\\.service\\.[a-z]+\\.([A-Za-z]+Store|SqlEngineStores)"),
            excludeFilters = @Filter(type = FilterType.REGEX, pattern = ".*\\.SqlEngineStore"))
    static class Stores {
        @Bean
        DataSource source(@org.springframework.beans.factory.annotation.Value("${memory}") String name) {
            JdbcDataSource source = new JdbcDataSource();
            source.setURL("jdbc:h2:mem:" + name + ";DB_CLOSE_DELAY=-1;QUERY_CACHE_SIZE=200");
            source.setUser("sa");
            return source;
        }

        @Bean
        JdbcTransactionManager transactions(DataSource source) {
            return new JdbcTransactionManager(source);
        }

        @Bean
        SqlSessionFactory sessions(DataSource source) throws Exception {
            Configuration configuration = new Configuration();
            configuration.setMapUnderscoreToCamelCase(true);
            configuration.setArgNameBasedConstructorAutoMapping(true);
            configuration.setLocalCacheScope(LocalCacheScope.STATEMENT);
            configuration.setDefaultExecutorType(ExecutorType.REUSE);
            SqlSessionFactoryBean bean = new SqlSessionFactoryBean();
            bean.setDataSource(source);
            bean.setConfiguration(configuration);
            return bean.getObject();
        }
    }
}
