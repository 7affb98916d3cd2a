package servitor.service.ledger;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;
import servitor.service.ledger.Rows.CommandRow;
import servitor.service.ledger.Rows.RunRow;

/** Runs and the commands they give. */
@Mapper
interface RunMapper {
    String RUN = "id, case_id, edition, page, status, step, state, created, updated, version, parent";

    @Select("select edition from run where id = #{id}")
    int editionOf(String id);

    /** Runs that ended before {@code before} and are still kept whole. */
    @Select(
            "select " + RUN
                    + " from run where not moved_out and updated < #{before} and status in ('finished', 'failed', 'stopped') order by updated limit #{limit}")
    List<RunRow> toMoveOut(Instant before, int limit);

    @Update(
            "update run set moved_out = true, state = #{slim} where id = #{id} and version = #{version} and not moved_out")
    int moveOut(String id, String slim, int version);

    @Select("select * from command where run_id = #{run} order by id")
    List<CommandRow> commandsOf(String run);

    @Delete("delete from command where run_id = #{run}")
    int deleteCommands(String run);

    @Select("select next value for run_number")
    long nextNumber();

    @Select("select " + RUN + " from run where id = #{id}")
    @Nullable
    RunRow find(String id);

    @Select("select id from run where parent = #{parent} and status not in ('finished', 'failed', 'stopped')")
    List<String> activeUnder(String parent);

    /** In the order in which they were begun: their numbers tell it, whatever clocks did. */
    @Select(
            "select id from run where case_id = #{caseId} and status not in ('finished', 'failed', 'stopped') order by length(id), id")
    List<String> activeOf(String caseId);

    @Update(
            "update command set state = 'dropped' where run_id = #{run} and state in ('pending', 'held', 'stuck', 'stopped')")
    int dropPending(String run);

    @Select("select * from command where id = #{id}")
    @Nullable
    CommandRow findCommand(String id);

    @Update("update command set state = #{to} where run_id = #{run} and state = #{from}")
    int restage(String run, String from, String to);

    @Update("update command set state = 'pending', attempts = 0, due = #{now} where id = #{id} and state = 'stuck'")
    int free(String id, Instant now);

    @Update("update command set sent = true where id = #{id}")
    int sent(String id);

    @Update("update command set state = 'done' where id = #{id} and state = 'in-doubt'")
    int settle(String id);

    @Select("select " + RUN + " from run where status = 'in-doubt' order by updated limit #{limit}")
    List<RunRow> inDoubt(int limit);

    @Select("select " + RUN + " from run where case_id = #{caseId} order by created, id")
    List<RunRow> ofCase(String caseId);

    @Select("select " + RUN + " from run where status in ('ready', 'working') order by updated desc limit #{limit}")
    List<RunRow> active(int limit);

    @Insert(
            "insert into run (id, case_id, edition, page, status, step, state, created, updated, version, parent) values (#{id}, #{caseId}, #{edition}, #{page}, #{status}, #{step}, #{state}, #{created}, #{updated}, #{version}, #{parent})")
    void insert(RunRow row);

    @Update("""
            update run set edition = #{edition}, status = #{status}, step = #{step}, state = #{state}, updated = #{now}, version = version + 1
            where id = #{id} and version = #{version}
            """)
    int update(String id, int edition, String status, String step, String state, Instant now, int version);

    @Insert(
            "insert into command (id, run_id, kind, payload, state, owner, lease_until, attempts, due, sent, connection, outside_key) values (#{id}, #{runId}, #{kind}, #{payload}, #{state}, #{owner}, #{leaseUntil}, #{attempts}, #{due}, #{sent}, #{connection}, #{outsideKey})")
    void insertCommand(CommandRow row);

    // Ordered by the whole index, so that the database walks along it instead of sorting all that waits.
    @Select(
            "select * from command where state = 'pending' and connection = #{connection} and due <= #{now} order by state, connection, due limit #{limit}")
    List<CommandRow> dueCommands(String connection, Instant now, int limit);

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
    List<CommandRow> commandsIn(String state, String run);

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

    @Update("alter sequence run_number restart with #{number}")
    void jumpTo(long number);

    @Update("update command set lease_until = #{now} where state = 'taken' and lease_until > #{now}")
    int dropLeases(Instant now);
}
