package servitor.service.ledger;

import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** What sets this installation apart from others, and the numbers it gives. */
@Mapper
interface InstallationMapper {
    @Select("select epoch from installation where one = 1")
    @Nullable
    String epoch();

    @Update("merge into installation (one, epoch) key (one) values (1, #{epoch})")
    void putEpoch(String epoch);

    @Select("select next value for case_number")
    long nextCaseNumber();

    @Select("select next value for run_number")
    long nextRunNumber();

    @Update("alter sequence case_number restart with #{number}")
    void jumpToCase(long number);

    @Update("alter sequence run_number restart with #{number}")
    void jumpToRun(long number);
}
