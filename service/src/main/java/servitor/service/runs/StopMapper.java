package servitor.service.runs;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;

/** Emergency stops that stand. */
@Mapper
interface StopMapper {
    @Select("select * from emergency_stop order by at")
    List<StopRow> all();

    @Insert("merge into emergency_stop (what, name, reason, stopped_by, at) key (what, name) values (#{what}, "
            + "#{name}, #{reason}, #{stoppedBy}, #{at})")
    void put(StopRow row);

    @Delete("delete from emergency_stop where what = #{what} and name = #{name}")
    int lift(String what, String name);
}
