package servitor.service.ledger;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** The trail, its data, its head, and the long texts it refers to. */
@Mapper
interface TrailMapper {
    @Select("select seq, hash from trail_head where one = 1")
    HeadRow head();

    /** The head, held until the end of the transaction, so that processes which share a database append in turn. */
    @Select("select seq, hash from trail_head where one = 1 for update")
    HeadRow lockHead();

    @Select("select at from trail order by seq desc limit 1")
    @Nullable
    Instant newestTime();

    @Select("select seq, hash from trail where seq = #{seq}")
    @Nullable
    HeadRow entry(long seq);

    /** Makes everything committed so far survive the end of the process. */
    @Update("checkpoint")
    void checkpoint();

    /** Makes everything committed so far survive the end of the machine. */
    @Update("checkpoint sync")
    void checkpointSync();

    /** Writes the whole database into a zip file while others go on writing. */
    @Update("backup to #{file}")
    void backup(String file);

    @Update("update trail_head set seq = #{seq}, hash = #{hash} where one = 1 and seq = #{before}")
    int moveHead(long seq, String hash, long before);

    /** Writes entries, one element of each column for each of them. */
    @Insert("""
            insert into trail (seq, at, actor, case_id, run_id, step, what, digest, previous, hash) select * from unnest(
              cast(#{seq} as bigint array), cast(#{at} as timestamp(6) with time zone array), cast(#{actor} as varchar array),
              cast(#{caseId} as varchar array), cast(#{runId} as varchar array), cast(#{step} as varchar array),
              cast(#{what} as varchar array), cast(#{digest} as varchar array), cast(#{previous} as varchar array),
              cast(#{hash} as varchar array))
            """)
    void insert(TrailColumns columns);

    @Insert("""
            insert into trail_data (seq, salt, data) select * from unnest(
              cast(#{seq} as bigint array), cast(#{salt} as varchar array), cast(#{data} as varchar array))
            """)
    void insertData(TrailColumns columns);

    @Select("select t.*, d.salt, d.data from trail t left join trail_data d on d.seq = t.seq where t.seq > "
            + "#{after} order by t.seq limit #{limit}")
    List<TrailRow> after(long after, int limit);

    @Select("""
            <script>
            select t.*, d.salt, d.data from trail t left join trail_data d on d.seq = t.seq
            where t.case_id = #{caseId} and t.seq &gt; #{after} <if test="what != null">and t.what = #{what}</if>
            order by t.case_id, t.seq limit #{limit}
            </script>
            """)
    List<TrailRow> ofCase(String caseId, @Nullable String what, long after, int limit);

    /** Newest entries that concern no case, or cases of the given desks. */
    @Select("""
            <script>
            select t.*, d.salt, d.data from trail t left join trail_data d on d.seq = t.seq
            left join case_record c on c.id = t.case_id
            where t.seq &lt; #{below} and (t.case_id = ''
              <if test="desks.size() > 0">or c.desk in
                <foreach collection="desks" item="k" open="(" separator="," close=")">#{k}</foreach></if>)
            <if test="what != null">and t.what = #{what}</if>
            order by t.seq desc limit #{limit}
            </script>
            """)
    List<TrailRow> newest(Collection<String> desks, @Nullable String what, long below, int limit);

    /** The cases of these desks in which one of these words was written since, the one written last first. */
    @Select("""
            <script>
            select t.case_id from trail t join case_record c on c.id = t.case_id
            where t.at &gt;= #{since} and t.what in
              <foreach collection="words" item="w" open="(" separator="," close=")">#{w}</foreach>
            and c.desk in <foreach collection="desks" item="k" open="(" separator="," close=")">#{k}</foreach>
            group by t.case_id order by max(t.seq) desc limit #{limit}
            </script>
            """)
    List<String> casesWith(Collection<String> desks, Collection<String> words, Instant since, int limit);

    /** Keeps texts; one that is there already counts as kept now, so that it doesn't move out with what is old. */
    @Insert("""
            merge into material (hash, text, kept) key (hash) select hash, text, #{now} from unnest(
              cast(#{hashes} as varchar array), cast(#{texts} as varchar array)) as kept (hash, text)
            """)
    void keep(Object hashes, Object texts, Instant now);

    /** Long texts that were kept before {@code before}. */
    @Select("select hash, text from material where kept < #{before} order by kept limit #{limit}")
    List<MaterialRow> materialBefore(Instant before, int limit);

    @Delete("delete from material where hash = #{hash}")
    int deleteMaterial(String hash);

    @Select("select text from material where hash = #{hash}")
    @Nullable
    String material(String hash);
}
