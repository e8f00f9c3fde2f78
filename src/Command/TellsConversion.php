<?php

declare(strict_types=1);

namespace Geschenk\App\Command;

use Geschenk\App\Words\Language;
use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Conversion\Loss;
use Geschenk\Core\Store\ChatStore;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Output\OutputInterface;

/**
 * What chats:convert and chats:merge say of a conversion. Beside the codes of ReportsUnusableInput these exit with 3
 * when all was done, and not all of what was read could be read.
 *
 * @phpstan-import-type LossArray from Loss
 */
trait TellsConversion
{
    /** @param list<Loss> $losses */
    private function tellLosses(OutputInterface $output, array $losses): void
    {
        foreach ($this->lossView->all(self::arrays($losses), [], Language::DEFAULT) as $n => $row) {
            $loss = $losses[$n];
            $chosen = array_column($row['choices'], 'words', 'key')[$loss->choice->key] ?? '';
            $output->writeln(sprintf(
                '%-22s %7s messages, %4s conversations  %s%s', $loss->rule, number_format($loss->messages),
                number_format($loss->conversations), $row['sentence'],
                count($loss->choices) > 1 ? ' '.$chosen.'.' : '',
            ), OutputInterface::OUTPUT_RAW);
        }
    }

    private function tellTotals(OutputInterface $output, Totals $totals): void
    {
        $said = $totals->complete() ? 'cli.adds_up' : 'cli.does_not_add_up';
        $output->writeln($this->words->say($said, [
            'messages' => $totals->messages, 'missing' => $totals->missing + $totals->addedMissing,
            'extra' => $totals->extra, 'settings' => $totals->settingsDiffering + $totals->accountDiffering,
        ], Language::DEFAULT), OutputInterface::OUTPUT_RAW);
    }

    /** @param string $where path of what was read */
    private function tellUnreadable(OutputInterface $output, ChatStore $chats, string $where): void
    {
        $lost = $chats->summary()['lost'];
        if (self::isAnyUnreadable($chats)) {
            $output->writeln($this->words->say('cli.unreadable', [
                'count' => $lost, 'more' => $lost > 0 && $chats->isLossUncounted() ? 'yes' : 'no', 'path' => $where,
            ], Language::DEFAULT), OutputInterface::OUTPUT_RAW);
        }
    }

    private static function isAnyUnreadable(ChatStore $chats): bool
    {
        return $chats->summary()['lost'] > 0 || $chats->isLossUncounted();
    }

    private static function exitCode(?Totals $totals, ChatStore ...$chats): int
    {
        if (null !== $totals && !$totals->complete()) {
            return Command::FAILURE;
        }

        return [] === array_filter($chats, self::isAnyUnreadable(...)) ? Command::SUCCESS : ExitCode::NOT_ALL_READ;
    }

    /**
     * @param list<Loss> $losses
     *
     * @return list<LossArray>
     */
    private static function arrays(array $losses): array
    {
        return array_map(static fn (Loss $loss): array => $loss->toArray(), $losses);
    }
}
