package servitor.service.forms;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** Forms that were sent in. */
@Mapper
interface FormMapper {
    @Insert(
            "insert into public_form (id, kind, name, address, came_from, received, asked, state, moved, detail, case_id) values (#{id}, "
                    + "#{kind}, #{name}, #{address}, #{cameFrom}, #{received}, #{asked}, #{state}, #{moved}, #{detail}, #{caseId})")
    void insert(FormRow row);

    @Select("select * from public_form where id = #{id}")
    @Nullable
    FormRow find(String id);

    @Select("select * from public_form where state = #{state} order by moved fetch first 100 rows only")
    List<FormRow> in(String state);

    @Select("""
            <script>
            select * from public_form where kind in
              <foreach collection="kinds" item="k" open="(" separator="," close=")">#{k}</foreach>
            order by received desc, id fetch first #{limit} rows only
            </script>
            """)
    List<FormRow> latest(Collection<String> kinds, int limit);

    @Select("select count(*) from public_form where received >= #{since}")
    int since(Instant since);

    @Select("select count(*) from public_form where came_from = #{cameFrom} and received >= #{since}")
    int from(@Param("cameFrom") String cameFrom, @Param("since") Instant since);

    @Select("select count(*) from public_form where address = #{address} and received >= #{since} and state <> 'left'")
    int to(@Param("address") String address, @Param("since") Instant since);

    @Update(
            "update public_form set state = #{to}, moved = #{now}, detail = #{detail} where id = #{row.id} and state = #{row.state}")
    int move(
            @Param("row") FormRow row,
            @Param("to") String to,
            @Param("now") Instant now,
            @Param("detail") String detail);

    @Update(
            "update public_form set state = 'to-tell', moved = #{now}, detail = '', asked = '', case_id = #{caseId} where id = #{id} and "
                    + "state in ('to-ask', 'asking', 'asked')")
    int confirmed(@Param("id") String id, @Param("caseId") String caseId, @Param("now") Instant now);

    @Update(
            "update public_form set state = 'forgotten', moved = #{now}, asked = '' where asked <> '' and case_id is null and received < "
                    + "#{before}")
    int forget(@Param("before") Instant before, @Param("now") Instant now);
}
