package servitor.service.runs;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;
import servitor.service.cases.CaseFilter;

/** Runs. */
@Mapper
interface RunMapper {
    String RUN = "id, case_id, edition, page, status, step, state, created, updated, version, parent";

    @Select("select edition, case_id from run where id = #{id}")
    RunStore.Pinned pinned(String id);

    /** Runs that ended before {@code before} and are still kept whole. */
    @Select("select " + RUN
            + " from run where not moved_out and updated < #{before} and status in ('finished', 'failed', "
            + "'stopped') order by updated limit #{limit}")
    List<RunRow> toMoveOut(Instant before, int limit);

    @Update(
            "update run set moved_out = true, state = #{slim} where id = #{id} and version = #{version} and not moved_out")
    int moveOut(String id, String slim, int version);

    @Select("select " + RUN + " from run where id = #{id}")
    @Nullable
    RunRow find(String id);

    @Select(
            "<script>select " + RUN
                    + " from run where parent in <foreach collection='runs' item='r' open='(' separator=',' close=')'>#{r}</foreach></script>")
    List<RunRow> followedBy(List<String> runs);

    @Select("select id from run where parent = #{parent} and status not in ('finished', 'failed', 'stopped')")
    List<String> activeUnder(String parent);

    /** In the order in which they were begun: their numbers tell it, whatever clocks did. */
    @Select(
            "select id from run where case_id = #{caseId} and status not in ('finished', 'failed', 'stopped') order by length(id), id")
    List<String> activeOf(String caseId);

    /** Runs whose cases are of the given desks: the runs are found first, as these are few, and their cases looked up. */
    String OF_DESKS = RUN + " from run r where exists (select 1 from case_record c where c.id = r.case_id and c.desk in"
            + " <foreach collection='desks' item='d' open='(' separator=',' close=')'>#{d}</foreach>) and ";

    /**
     * Runs that somebody may see, the one begun last first. The runs are gone through in that order, and their cases looked up, until
     * there are enough; where one person's are asked for, these are few, and are looked up first.
     */
    @Select("<script>select " + RUN + " from run r where" + """
            <choose>
              <when test="about.requester != null">r.case_id in (select c.id from case_record c where c.requester =
                #{about.requester} and</when>
              <otherwise>exists (select 1 from case_record c where c.id = r.case_id and</otherwise>
            </choose>
              c.desk in <foreach collection="filter.desks" item="d" open="(" separator="," close=")">#{d}</foreach>
            """ + CaseFilter.OF_CASE + """
            )
            <if test="filter.status != null">and r.status = #{filter.status}</if>
            <if test="about.since != null">and r.created &gt;= #{about.since}</if>
            <if test="about.until != null">and r.created &lt; #{about.until}</if>
            """ + CaseFilter.OF_RUN + """
            <if test="filter.beforeTime != null">and (r.created, r.id) &lt; (#{filter.beforeTime}, #{filter.beforeId})</if>
            order by <if test="filter.status != null">r.status, </if>r.created desc, r.id desc limit #{limit}
            </script>
            """)
    List<RunRow> list(RunFilter filter, CaseFilter about, int limit);

    @Select("<script>select " + OF_DESKS + "r.status = #{status} order by r.updated limit #{limit}</script>")
    List<RunRow> standing(Collection<String> desks, String status, int limit);

    @Select("<script>select " + OF_DESKS
            + "r.id in (select run_id from went_wrong where seen_by = '') order by r.updated limit #{limit}</script>")
    List<RunRow> troubled(Collection<String> desks, int limit);

    @Select("<script>select " + OF_DESKS
            + "r.status in ('ready', 'working') order by r.updated desc limit #{limit}</script>")
    List<RunRow> activeOfDesks(Collection<String> desks, int limit);

    @Select("select " + RUN + " from run where case_id = #{caseId} order by created, id")
    List<RunRow> ofCase(String caseId);

    @Select("select " + RUN + " from run where status in ('ready', 'working') order by updated desc limit #{limit}")
    List<RunRow> active(int limit);

    /** Writes new runs, one element of each column for each of them. */
    @Insert("""
            insert into run (id, case_id, edition, page, status, step, state, created, updated, version, parent)
            select * from unnest(
              cast(#{id} as varchar array), cast(#{caseId} as varchar array), cast(#{edition} as int array),
              cast(#{page} as varchar array), cast(#{status} as varchar array), cast(#{step} as varchar array),
              cast(#{state} as varchar array), cast(#{created} as timestamp(6) with time zone array),
              cast(#{updated} as timestamp(6) with time zone array), cast(#{version} as int array), cast(#{parent} as varchar array))
            """)
    void insert(RunColumns columns);

    /** Writes what has changed of runs that are there. */
    @Update("""
            merge into run (id, edition, status, step, state, updated, version) key (id)
            select * from unnest(
              cast(#{id} as varchar array), cast(#{edition} as int array), cast(#{status} as varchar array),
              cast(#{step} as varchar array), cast(#{state} as varchar array),
              cast(#{updated} as timestamp(6) with time zone array), cast(#{version} as int array))
            """)
    void update(RunColumns columns);
}
