import { Button, Progress } from 'antd'
import { leaveJob, useWaits } from '../api/jobs'
import { tokens } from '../theme/tokens'

/** What this window waits for: what is done, how far it is, and a way to stop it. What is soon over is not shown. */
export function AtWork() {
  const [job, ...more] = useWaits((s) => s.jobs)
  if (!job) return null
  return (
    <span key={job.id} className="at-work" role="status" aria-label="At work" title={`${job.title}: ${job.text || 'starting'}`}>
      <Progress type="circle" size={16} percent={Math.round(job.share * 100)} strokeColor={tokens.spruce} showInfo={false} />
      <span className="said">
        {job.title}
        {job.text && <span className="quiet">: {job.text}</span>}
        {more.length > 0 && <span className="quiet"> and {more.length} more</span>}
      </span>
      <Button size="small" type="text" aria-label={`Stop ${job.title}`} title="Stop it" onClick={() => void leaveJob(job.id)}>
        ✕
      </Button>
    </span>
  )
}
