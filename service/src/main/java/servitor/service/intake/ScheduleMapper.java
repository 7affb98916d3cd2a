package servitor.service.intake;

import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** When schedules have fired. */
@Mapper
interface ScheduleMapper {
    @Select("select * from schedule where intake = #{intake}")
    @Nullable
    ScheduleRow find(String intake);

    @Update("merge into schedule (intake, cron, fired) key (intake) values (#{intake}, #{cron}, #{fired})")
    void put(ScheduleRow row);
}
