<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Entity\Import;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\RunState;
use Geschenk\App\Http\Time;
use Geschenk\Core\UnusableInput;

/** Imports that are under way, and those that were lately: what came, and nothing that anybody wrote. */
final readonly class ImportView
{
    private const MOST = 20;

    public function __construct(private EntityManagerInterface $entities, private RunView $runs)
    {
    }

    /** @return list<array<string, mixed>> the newest first; what is not over is among them however old */
    public function newest(): array
    {
        $newest = $this->entities->getRepository(Import::class)->findBy([], ['id' => 'DESC'], self::MOST);
        $dql = 'SELECT i FROM '.Import::class.' i, '.Run::class.' r WHERE r.id = i.id AND r.state NOT IN (:over) '
            .'ORDER BY i.id DESC';
        /** @var list<Import> $open */
        $open = $this->entities->createQuery($dql)->setMaxResults(self::MOST)
            ->setParameter('over', [RunState::Done->value, RunState::Cancelled->value])->getResult();
        $all = [];
        foreach ([...$open, ...$newest] as $import) {
            $all[$import->id] = $import;
        }
        krsort($all);

        return array_values(array_map($this->of(...), $all));
    }

    /** @return array<string, mixed> */
    public function of(Import $import): array
    {
        $backup = $import->backup();
        $run = null === $backup ? $this->entities->find(Run::class, $import->id) : null;

        return [
            'id' => $import->id, 'customer' => $import->customer->name(), 'customer_id' => $import->customer->id(),
            'name' => $import->name(), 'stick' => $import->from, 'sort' => $import->sort,
            'asked_at' => Time::iso($import->askedAt), 'asked_by' => $import->askedBy,
            'wants_key' => in_array($run?->trouble(), UnusableInput::WANTS_KEY, true),
            'parts' => array_map(static fn (array $part): array => [
                ...$part, 'at' => null === $part['at'] ? null : Time::ofSeconds($part['at']),
            ], $import->parts()),
            'run' => null === $run ? null : $this->runs->of($run, $run->acts()),
            'made' => null === $backup ? null : [
                'backup' => $backup->id, 'edition' => $backup->edition, 'account' => $backup->account,
                'conversations' => $backup->conversations, 'messages' => $backup->messages,
                'attachments' => $backup->attachments, 'attachments_absent' => $backup->attachmentsAbsent,
                'lost' => $backup->lost,
            ],
        ];
    }
}
