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
    @Select("select * from command where run_id = #{run} order by id")
    List<CommandRow> ofRun(String run);

    @Delete("delete from command where run_id = #{run}")
    int delete(String run);

    @Update(
            "update command set state = 'dropped' where run_id = #{run} and state in ('pending', 'held', 'stuck', 'stopped')")
    int dropPending(String run);

    @Select("select * from command where id = #{id}")
    @Nullable
    CommandRow find(String id);

    @Update("update command set state = #{to} where run_id = #{run} and state = #{from}")
    int restage(String run, String from, String to);

    @Update("update command set state = 'pending', attempts = 0, due = #{now} where id = #{id} and state = 'stuck'")
    int free(String id, Instant now);

    @Update("update command set sent = true where id = #{id}")
    int sent(String id);

    @Update("update command set state = 'done' where id = #{id} and state = 'in-doubt'")
    int settle(String id);

    @Insert(
            "insert into command (id, run_id, kind, payload, state, owner, lease_until, attempts, due, sent, connection, outside_key) values (#{id}, #{runId}, #{kind}, #{payload}, #{state}, #{owner}, #{leaseUntil}, #{attempts}, #{due}, #{sent}, #{connection}, #{outsideKey})")
    void insert(CommandRow row);

    // Ordered by the whole index, so that the database walks along it instead of sorting all that waits.
    @Select(
            "select * from command where state = 'pending' and connection = #{connection} and due <= #{now} order by state, connection, due limit #{limit}")
    List<CommandRow> due(String connection, Instant now, int limit);

    /**
     * The first connection by name, after {@code name}, that pending work goes out by. The dash is the first sign a longer name
     * could go on with: the database steps right there, past all that waits for {@code name} itself.
     */
    @Select(
            "select connection from command where state = 'pending' and connection >= #{name} || '-' order by state, connection limit 1")
    @Nullable
    String connectionAfter(String name);

    @Select(
            "select due from command where state = 'pending' and connection = #{connection} and due > #{now} order by state, connection, due limit 1")
    @Nullable
    Instant nextDue(String connection, Instant now);

    @Select("select * from command where state = 'taken' and lease_until < #{now} limit #{limit}")
    List<CommandRow> abandoned(Instant now, int limit);

    @Update("""
            update command set state = 'taken', owner = #{owner}, lease_until = #{until}, attempts = attempts + 1
            where id = #{id} and state = 'pending'
            """)
    int take(String id, String owner, Instant until);

    @Update(
            "update command set state = #{state}, owner = null, lease_until = null, due = #{due} where id = #{id} and state = 'taken' and owner = #{owner}")
    int release(String id, String owner, String state, Instant due);

    @Select("""
            <script>
            select * from command where state = #{state} <if test="run != ''">and run_id = #{run}</if> order by id
            </script>
            """)
    List<CommandRow> in(String state, String run);

    @Update("update command set state = #{to} where id = #{id} and state = #{from}")
    int move(String id, String from, String to);

    /** Lets held work go; {@code due} is when it falls due now. */
    @Update("update command set state = 'pending', due = #{due} where id = #{id} and state = 'held'")
    int letGo(String id, Instant due);

    @Update("update command set outcome = #{outcome} where id = #{id}")
    int setAside(String id, String outcome);

    @Select("select outcome from command where id = #{id}")
    @Nullable
    String aside(String id);

    @Update("update command set lease_until = #{now} where state = 'taken' and lease_until > #{now}")
    int dropLeases(Instant now);
}
