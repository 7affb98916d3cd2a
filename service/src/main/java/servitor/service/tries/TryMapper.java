package servitor.service.tries;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** Tries in the database. */
@Mapper
interface TryMapper {
    @Select("select * from page_try where person = #{person} order by updated desc")
    List<TryRow> all(String person);

    @Select("select * from page_try where person = #{person} and id = #{id}")
    @Nullable
    TryRow find(String person, String id);

    @Update(
            "merge into page_try (id, person, source, named, title, request, answers, for_real, updated) key (id) values "
                    + "(#{id}, #{person}, #{source}, #{named}, #{title}, #{request}, #{answers}, #{forReal}, #{updated})")
    void put(TryRow row);

    @Delete("delete from page_try where person = #{person} and id = #{id}")
    int delete(String person, String id);
}
