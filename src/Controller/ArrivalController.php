<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Check;
use Geschenk\App\Entity\Move;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Files\OwnFile;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\Refusal;
use Geschenk\App\View\DifferenceView;
use Geschenk\App\View\LossView;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Arrival\Since;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;

/** Losses before the fact, the rehearsal's tally, and what the arrival checks found. */
#[Route('/api/trays/{number<\d{1,9}>}/moves/{place<\d{1,3}>}')]
final readonly class ArrivalController
{
    private const PAGE = 200;

    public function __construct(
        private Trays $trays,
        private MoveFiles $files,
        private EntityManagerInterface $entities,
        private LossView $lossView,
        private DifferenceView $differences,
    ) {
    }

    #[Route('/losses', methods: ['GET'])]
    public function showLosses(int $number, int $place): JsonResponse
    {
        $move = $this->trays->move($number, $place);
        $rehearsal = $move->bringing()->rehearsal() ?? throw new NotFoundHttpException('nothing_converted');

        return new JsonAnswer([
            'losses' => $this->lossView->all($rehearsal['losses'], $this->titles($move)),
            'may_choose' => !$move->bringing()->isInPlace() && null === $move->tray->closedAt(),
            'attachments_absent' => $rehearsal['attachments_absent'], 'totals' => $rehearsal['totals'],
        ]);
    }

    /** The newest check, or an earlier one that was kept. */
    #[Route('/arrival', methods: ['GET'])]
    public function arrival(int $number, int $place, Request $request): JsonResponse
    {
        $move = $this->trays->move($number, $place);
        $check = $this->check($move, $request->query->getInt('check'));
        $result = $this->result($check);
        [$months, $conversations, $reasons, $account] = OwnFile::read('check_spoilt', static fn (): array => [
            $result->months(), $result->conversations(), $result->reasons(), $result->account(),
        ]);
        $rows = [];
        foreach ($conversations as $row) {
            $rows[] = [
                ...array_diff_key($row, ['key' => 1]),
                'title' => null === $row['title'] ? null : mb_scrub($row['title']),
                'first_expected' => Time::ofMilliseconds($row['first_expected']),
                'first_found' => Time::ofMilliseconds($row['first_found']),
                'last_expected' => Time::ofMilliseconds($row['last_expected']),
                'last_found' => Time::ofMilliseconds($row['last_found']), 'months' => $months[$row['id']] ?? [],
            ];
        }

        return new JsonAnswer([
            'check' => $check->id(), 'totals' => $check->totals(), 'reasons' => (object) $reasons,
            'checked_at' => Time::iso($check->at),
            'losses' => $this->lossView->all($check->bringing->rehearsal()['losses'] ?? [], $this->titles($move)),
            'account' => $account, 'conversations' => $rows,
        ]);
    }

    /** A check held against an earlier one. */
    #[Route('/arrival/since', methods: ['GET'])]
    public function since(int $number, int $place, Request $request): JsonResponse
    {
        $move = $this->trays->move($number, $place);
        $now = $this->check($move, $request->query->getInt('check'));
        $then = $this->check($move, max(1, $request->query->getInt('earlier')));
        // Two may be of one second.
        if ($then->id() >= $now->id()) {
            throw Refusal::because('not_an_earlier_check');
        }
        $since = new Since($this->result($then), $this->result($now));
        $rows = OwnFile::read('check_spoilt', $since->conversations(...));

        return new JsonAnswer([
            'checked_then' => Time::iso($then->at), 'checked_now' => Time::iso($now->at),
            'totals_then' => $then->totals(), 'totals_now' => $now->totals(),
            'conversations' => array_map(static fn (array $row): array => [
                ...$row, 'title' => null === $row['title'] ? null : mb_scrub($row['title']),
            ], $rows),
        ]);
    }

    #[Route('/arrival/{conversation<\d{1,12}>}', methods: ['GET'])]
    public function findings(int $number, int $place, int $conversation, Request $request): JsonResponse
    {
        $move = $this->trays->move($number, $place);
        $check = $this->check($move, $request->query->getInt('check'));
        $result = $this->result($check);
        $expected = $this->files->plan($move);
        // What was read back is there of the newest check alone, and until the hand-over.
        $found = $check === $move->bringing()->check() && $this->files->hasReadBack($move)
            ? $this->files->wasReadBack($move)
            : null;
        // Its numbers are those of what was planned for it; what was planned since has numbers of its own.
        $isPlanned = $check->bringing === $move->bringing();
        $from = max(0, $request->query->getInt('from'));
        $lines = OwnFile::read(
            'check_spoilt', static fn (): array => $result->findings($conversation, $from, self::PAGE),
        );
        $findings = [];
        foreach ($lines as $finding) {
            $meant = null !== $finding['expected_id'] && $isPlanned
                ? $expected->glimpse($finding['expected_id'])
                : null;
            $there = null === $finding['found_id'] ? null : $found?->glimpse($finding['found_id']);
            $message = $meant?->message;
            $attachment = $message->attachments[0] ?? null;
            $sender = $finding['sender_key'];
            $findings[] = [
                'id' => $finding['id'], 'account' => $finding['account'], 'reason' => $finding['reason'],
                'place' => $finding['place'], 'kind' => $finding['kind'],
                'sent_at' => Time::ofMilliseconds($finding['sent_at']),
                'sender' => null === $sender ? null : mb_scrub($expected->nameOf($sender)),
                'from_owner' => $finding['from_owner'], 'aspects' => $finding['aspects'],
                'found' => null !== $finding['found_id'],
                'sides' => null === $meant || null === $there || null === $found
                    ? []
                    : $this->differences->of($expected, $meant, $found, $there, $finding['aspects']),
                'attachment' => null === $attachment ? null : [
                    'media_type' => $attachment->mediaType, 'bytes' => $attachment->bytes,
                ],
            ];
        }

        return new JsonAnswer(['findings' => $findings]);
    }

    /** @return array<string, string|null> by conversation; none where what was expected can't be read any more */
    private function titles(Move $move): array
    {
        try {
            return OwnFile::read('plan_spoilt', fn (): array => $this->files->plan($move)->titles());
        } catch (Refusal) {
            return [];
        }
    }

    /** @param int $id 0 for the newest */
    private function check(Move $move, int $id): Check
    {
        $check = 0 === $id ? $move->bringing()->check() : $this->entities->getRepository(Check::class)->findOneBy([
            'id' => $id, 'bringing' => $move->bringings(),
        ]);

        return $check ?? throw new NotFoundHttpException('nothing_checked');
    }

    private function result(Check $check): Result
    {
        if (null !== $check->move()->tray->erasedAt()) {
            throw new NotFoundHttpException('erased');
        }

        return $this->files->result($check) ?? throw new NotFoundHttpException('check_gone');
    }
}
