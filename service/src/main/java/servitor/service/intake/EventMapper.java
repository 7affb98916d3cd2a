package servitor.service.intake;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** Messages of outside systems. */
@Mapper
interface EventMapper {
    String COLUMNS = "outside_event (id, intake, received, sender, source, named, became, case_id, reason, size)";
    String VALUES =
            "values (#{id}, #{intake}, #{received}, #{sender}, #{source}, #{named}, #{became}, #{caseId}, #{reason}, #{size})";

    @Select("select * from outside_event where id = #{id}")
    @Nullable
    EventRow find(String id);

    @Select(
            "select * from outside_event where intake = #{intake} order by received desc, id fetch first #{most} rows only")
    List<EventRow> latest(String intake, int most);

    /** Writes one that hasn't come before; fails when another process has just done so. */
    @Insert("insert into " + COLUMNS + " " + VALUES)
    void insert(EventRow row);

    /** Writes one that had become nothing. */
    @Update("merge into " + COLUMNS + " key (id) " + VALUES)
    void put(EventRow row);

    @Update(
            "merge into event_payload (event_id, payload, received) key (event_id) values (#{id}, #{payload}, #{received})")
    void putPayload(String id, String payload, Instant received);

    @Select("select payload from event_payload where event_id = #{id}")
    @Nullable
    String payload(String id);

    @Delete("delete from event_payload where received < #{before}")
    int forgetPayloads(Instant before);

    /** Those that became nothing and came before {@code before}: should they come again, nothing becomes of them again. */
    @Delete("delete from outside_event where received < #{before} and case_id = ''")
    int forgetLeftOut(Instant before);

    @Delete("delete from hook_refusal where since < #{before}")
    int forgetRefusals(Instant before);

    @Select("select * from case_repeat where case_id = #{caseId} and intake = #{intake}")
    @Nullable
    RepeatRow repeat(String caseId, String intake);

    @Select("select * from case_repeat where case_id = #{caseId} and times > 0 order by since")
    List<RepeatRow> repeats(String caseId);

    @Update(
            "merge into case_repeat (case_id, intake, said, since, latest, times) key (case_id, intake) values (#{caseId}, #{intake}, "
                    + "#{said}, #{since}, #{latest}, #{times})")
    void count(RepeatRow row);

    @Update(
            "update hook_refusal set times = times + #{times}, latest = #{at} where intake = #{intake} and since = #{since} and reason = "
                    + "#{reason}")
    int refusedAgain(String intake, Instant since, String reason, long times, Instant at);

    @Insert(
            "insert into hook_refusal (intake, since, reason, times, latest) values (#{intake}, #{since}, #{reason}, #{times}, #{at})")
    void refused(String intake, Instant since, String reason, long times, Instant at);

    @Select("select * from hook_refusal where intake = #{intake} and since >= #{since} order by latest desc")
    List<RefusalRow> refusals(String intake, Instant since);
}
