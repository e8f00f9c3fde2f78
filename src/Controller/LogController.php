<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\QueryBuilder;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\LogEntry;
use Geschenk\App\Entity\Tray;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\Log\LogNames;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\Refusal;
use Geschenk\App\Shop;
use Geschenk\App\Words\Words;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Who saw and did what; for the manager. Page by page back to the first entry, so that nothing is out of sight. */
final readonly class LogController
{
    private const PAGE = 100;
    /** What kinds of entries are asked for, in DQL. */
    private const KINDS = [
        'sign_in' => "(e.act LIKE 'sign%' OR e.act LIKE 'user%' OR e.act = 'session_ended')",
        'look' => "e.act IN ('uncovered', 'uncovered_closed', 'covered', 'looked_into', 'uncovered_eyes', "
            ."'uncovered_drawn', 'covered_eyes', 'uncovered_all', 'covered_all', 'log_read', 'sheet_opened', "
            ."'sheet_compared', 'page_compared')",
        'work' => "(e.act LIKE 'step.%' OR e.act IN ('asked', 'went_on', 'stopped', 'paused', 'cancelled', 'chose', "
            ."'chose_what', 'kept_habit', 'kept_until', 'erase_asked', 'erased', 'eyes_same', 'eyes_taken_back', "
            ."'bring_missing', 'bring_rest', 'clock_jumped', 'clock_confirmed', 'withdrawn'))",
    ];

    public function __construct(
        private EntityManagerInterface $entities,
        private ShopLog $log,
        private Words $words,
        private LogNames $names,
    ) {
    }

    #[Route('/api/log', methods: ['GET'])]
    public function log(Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $before = $request->query->getInt('before');
        $this->log->note($user->getUserIdentifier(), 'log_read');
        $query = $this->entities->createQueryBuilder()->select('e')->from(LogEntry::class, 'e')
            ->orderBy('e.id', 'DESC')->setMaxResults(self::PAGE + 1);
        if ($before > 0) {
            $query->andWhere('e.id < :before')->setParameter('before', $before);
        }
        $this->narrow($query, $request);
        /** @var list<LogEntry> $entries */
        $entries = $query->getQuery()->getResult();

        return new JsonAnswer([
            'entries' => array_map(fn (LogEntry $e): array => [
                'id' => $e->id(), 'at' => Time::iso($e->at), 'by' => $this->words->who($e->by), 'act' => $e->act,
                'tray' => $e->trayNumber,
                'text' => $this->words->say(
                    str_starts_with($e->act, 'step.') ? $e->act : 'log.'.$e->act, $this->named($e),
                ),
            ], array_slice($entries, 0, self::PAGE)),
            'older' => count($entries) > self::PAGE, 'people' => $this->people(),
        ]);
    }

    /** @return array<string, string|int> */
    private function named(LogEntry $entry): array
    {
        $params = $entry->params;
        if (LogNames::CUSTOMER === ($params[LogNames::OF_TRAY] ?? null)) {
            $tray = $this->entities->getRepository(Tray::class)->findOneBy(['number' => $entry->trayNumber]);
            $params[LogNames::CUSTOMER] = $tray?->customerName() ?? Customer::NOBODY;
        }
        foreach (LogNames::SAID as $param => $said) {
            $ref = $params[$param] ?? null;
            if (is_string($ref)) {
                $params[$said] = $this->names->find($ref) ?? $this->words->say('log.title_erased');
            }
        }

        return $params;
    }

    private function narrow(QueryBuilder $query, Request $request): void
    {
        $kind = self::KINDS[$request->query->getString('kind')] ?? null;
        if (null !== $kind) {
            $query->andWhere($kind);
        }
        $by = $request->query->getString('by');
        if ('' !== $by) {
            $query->andWhere('e.by = :by')->setParameter('by', $by);
        }
        $tray = $request->query->getInt('tray');
        if ($tray > 0) {
            $query->andWhere('e.trayNumber = :tray')->setParameter('tray', $tray);
        }
        $day = $request->query->getString('day');
        if ('' !== $day) {
            $begin = Shop::day($day) ?? throw Refusal::because('no_day');
            $utc = new \DateTimeZone('UTC');
            $query->andWhere('e.at >= :begin AND e.at < :end')
                ->setParameter('begin', $begin->setTimezone($utc), 'datetime_immutable')
                ->setParameter('end', $begin->modify('+1 day')->setTimezone($utc), 'datetime_immutable');
        }
    }

    /** @return list<string> all who are in the log */
    private function people(): array
    {
        $dql = 'SELECT DISTINCT e.by FROM '.LogEntry::class.' e ORDER BY e.by';

        return array_values(array_filter(
            $this->entities->createQuery($dql)->getSingleColumnResult(), is_string(...),
        ));
    }
}
