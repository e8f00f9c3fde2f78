<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\Tray;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\Tray\RunDesk;
use Geschenk\App\Tray\TrayFiles;
use Geschenk\App\Work\RunKind;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Store\ChatStore;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;

/** Losses before the fact, the rehearsal's tally, and what the arrival check found. */
final readonly class ArrivalController
{
    public function __construct(private Trays $trays, private TrayFiles $files, private RunDesk $runs)
    {
    }

    #[Route('/api/trays/{number<\d+>}/losses', methods: ['GET'])]
    public function showLosses(int $number): JsonResponse
    {
        $tray = $this->trays->get($number);
        $answer = $this->files->whileConverted($tray, function () use ($tray): array {
            $expected = new ChatStore($this->files->expected($tray));

            return [
                'losses' => $this->losses($tray, $expected), 'may_choose' => null === $this->runs->lastDone($tray, RunKind::Restore) && null === $tray->closedAt(),
                'attachments_absent' => $expected->summary()['attachments_missing'], 'totals' => (new Result($this->files->rehearsal($tray)))->totals()->toArray(),
            ];
        });

        return new JsonAnswer($answer ?? throw new NotFoundHttpException('Nothing was converted in this tray yet.'));
    }

    #[Route('/api/trays/{number<\d+>}/arrival', methods: ['GET'])]
    public function arrival(int $number): JsonResponse
    {
        $tray = $this->trays->get($number);
        $result = $this->result($tray);
        $months = $result->months();
        $rows = [];
        foreach ($result->conversations() as $row) {
            $rows[] = [
                ...array_diff_key($row, ['key' => 1]), 'title' => null === $row['title'] ? null : mb_scrub($row['title']), 'first_expected' => Time::ofMilliseconds($row['first_expected']), 'first_found' => Time::ofMilliseconds($row['first_found']),
                'last_expected' => Time::ofMilliseconds($row['last_expected']), 'last_found' => Time::ofMilliseconds($row['last_found']), 'months' => $months[$row['id']] ?? [],
            ];
        }
        $check = $this->runs->lastDone($tray, RunKind::Check);

        return new JsonAnswer([
            'totals' => $result->totals()->toArray(), 'reasons' => (object) $result->reasons(), 'checked_at' => null === $check?->finishedAt() ? null : Time::iso($check->finishedAt()),
            'losses' => $this->losses($tray, new ChatStore($this->files->expected($tray))), 'account' => $result->account(), 'conversations' => $rows,
        ]);
    }

    #[Route('/api/trays/{number<\d+>}/arrival/{conversation<\d+>}', methods: ['GET'])]
    public function findings(int $number, int $conversation, Request $request): JsonResponse
    {
        $tray = $this->trays->get($number);
        $expected = new ChatStore($this->files->expected($tray));
        $findings = [];
        foreach ($this->result($tray)->findings($conversation, max(0, $request->query->getInt('from')), 200) as $finding) {
            $message = null === $finding['expected_id'] ? null : $expected->glimpse($finding['expected_id'])?->message;
            $attachment = $message->attachments[0] ?? null;
            $findings[] = [
                'id' => $finding['id'], 'account' => $finding['account'], 'reason' => $finding['reason'], 'place' => $finding['place'], 'kind' => $finding['kind'], 'sent_at' => Time::ofMilliseconds($finding['sent_at']),
                'sender' => null === $finding['sender_key'] ? null : mb_scrub($expected->nameOf($finding['sender_key'])), 'from_owner' => $finding['from_owner'], 'aspects' => $finding['aspects'],
                'found' => null !== $finding['found_id'], 'attachment' => null === $attachment ? null : ['media_type' => $attachment->mediaType, 'bytes' => $attachment->bytes],
            ];
        }

        return new JsonAnswer(['findings' => $findings]);
    }

    /** @return list<array<string, mixed>> the example's conversation by its title */
    private function losses(Tray $tray, ChatStore $expected): array
    {
        $titles = $expected->titles();

        return array_map(static function (array $loss) use ($titles): array {
            $example = $loss['example'];

            return [...$loss, 'example' => null === $example ? null : [
                'conversation' => mb_scrub($titles[$example['conversation']] ?? $example['conversation']), 'kind' => $example['kind'], 'sent_at' => Time::ofMilliseconds($example['sent_at']),
            ]];
        }, $this->files->losses($tray));
    }

    private function result(Tray $tray): Result
    {
        $path = $this->files->arrival($tray);

        return is_file($path) ? new Result($path) : throw new NotFoundHttpException('Nothing was checked in this tray yet.');
    }
}
