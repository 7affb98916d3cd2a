package servitor.service.runs;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** Runs. */
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

    @Select("select " + RUN + " from run where id = #{id}")
    @Nullable
    RunRow find(String id);

    @Select("select id from run where parent = #{parent} and status not in ('finished', 'failed', 'stopped')")
    List<String> activeUnder(String parent);

    /** In the order in which they were begun: their numbers tell it, whatever clocks did. */
    @Select(
            "select id from run where case_id = #{caseId} and status not in ('finished', 'failed', 'stopped') order by length(id), id")
    List<String> activeOf(String caseId);

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
}
