package servitor.service.runs;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** Work that runs have given out. */
@Mapper
interface WorkMapper {
    /** Work with what is to be done, as the rows are read. */
    String WORK = "select c.*, p.payload from command c join command_payload p on p.command_id = c.id ";

    @Select(WORK + "where c.run_id = #{run} order by c.id")
    List<CommandRow> ofRun(String run);

    @Delete("delete from command where run_id = #{run}")
    int delete(String run);

    @Delete("delete from command_payload where command_id in (select id from command where run_id = #{run})")
    void deletePayloads(String run);

    @Select(WORK + "where c.id = #{id}")
    @Nullable
    CommandRow find(String id);

    /** Writes new work, one element of each column for each of them. */
    @Insert("""
            insert into command (id, run_id, kind, state, owner, lease_until, attempts, due, sent, connection, outside_key)
            select * from unnest(
              cast(#{id} as varchar array), cast(#{runId} as varchar array), cast(#{kind} as varchar array),
              cast(#{state} as varchar array), cast(#{owner} as varchar array),
              cast(#{leaseUntil} as timestamp(6) with time zone array), cast(#{attempts} as int array),
              cast(#{due} as timestamp(6) with time zone array), cast(#{sent} as boolean array),
              cast(#{connection} as varchar array), cast(#{outsideKey} as varchar array))
            """)
    void insert(WorkColumns columns);

    @Insert("""
            insert into command_payload (command_id, payload)
            select * from unnest(cast(#{id} as varchar array), cast(#{payload} as varchar array))
            """)
    void insertPayloads(WorkColumns columns);

    /** Writes what has changed of work that is there. */
    @Update("""
            merge into command (id, state, owner, lease_until, attempts, due, sent) key (id)
            select * from unnest(
              cast(#{id} as varchar array), cast(#{state} as varchar array), cast(#{owner} as varchar array),
              cast(#{leaseUntil} as timestamp(6) with time zone array), cast(#{attempts} as int array),
              cast(#{due} as timestamp(6) with time zone array), cast(#{sent} as boolean array))
            """)
    void update(WorkColumns columns);

    @Update(
            "update command set state = 'dropped' where run_id = #{run} and state in ('pending', 'held', 'stuck', 'stopped')")
    void drop(String run);

    /** Work of a run that isn't done with. */
    @Select(WORK + "where c.run_id = #{run} and c.state not in ('done', 'dropped') order by c.id")
    List<CommandRow> openOf(String run);

    // Ordered by the whole index, so that the database walks along it instead of sorting all that waits.
    @Select(WORK + "where c.state = 'pending' and c.connection = #{connection} and c.due <= #{now} "
            + "order by c.state, c.connection, c.due limit #{limit}")
    List<CommandRow> due(String connection, Instant now, int limit);

    /**
     * The first connection by name, after {@code name}, that pending work goes out by. The dash is the first sign a longer name
     * could go on with: the database steps right there, past all that waits for {@code name} itself.
     */
    @Select(
            "select connection from command where state = 'pending' and connection >= #{name} || '-' order by state, connection limit 1")
    @Nullable
    String connectionAfter(String name);

    @Select("select due from command where state = 'pending' and connection = #{connection} and due > #{now} "
            + "order by state, connection, due limit 1")
    @Nullable
    Instant nextDue(String connection, Instant now);

    @Select(WORK + "where c.state = 'taken' and c.lease_until < #{now} limit #{limit}")
    List<CommandRow> abandoned(Instant now, int limit);

    @Select("<script>" + WORK + """
            where c.state = #{state} <if test="run != ''">and c.run_id = #{run}</if> order by c.id
            </script>
            """)
    List<CommandRow> in(String state, String run);

    @Update("update command set state = #{to} where id = #{id} and state = #{from}")
    int move(String id, String from, String to);

    @Update("update command set outcome = #{outcome} where id = #{id}")
    int setAside(String id, String outcome);

    @Select("select outcome from command where id = #{id}")
    @Nullable
    String aside(String id);

    @Update("update command set lease_until = #{now} where state = 'taken' and lease_until > #{now}")
    int dropLeases(Instant now);
}
